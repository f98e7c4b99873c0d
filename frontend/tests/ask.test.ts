import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { createVuetify } from 'vuetify'

import type { Question, Subset } from '@/api/types'
import RichText from '@/parts/RichText.vue'
import CrosstabTable from '@/screens/ask/CrosstabTable.vue'
import { plainCells } from '@/screens/ask/crosstabView'
import NumberField from '@/parts/NumberField.vue'
import { withOptions } from '@/screens/ask/options'
import { numberIn } from '@/parts/typed'
import { interestFirst, namesIn, together, withoutTerm } from '@/screens/ask/terms'
import { emptyQuestion, questionInWords, subsetInWords } from '@/screens/ask/words'
import { needsALook, reasonsToLook } from '@/screens/codebook/look'
import { entry, table as counted } from './entries'

const titles = { rows: 'Water source', columns: 'Illness' }
const table = plainCells(counted, titles)

describe('what the cross-tabulation shows', () => {
  it('puts the event first', () => expect(table.order).toEqual([1, 0]))
  it('marks cells that stand out, by direction and strength', () => {
    expect(table.mark(0, 0)).toBe('more-2')
    expect(table.mark(0, 1)).toBe('less-2')
    expect(table.mark(1, 0)).toBe('less-1')
    expect(table.mark(1, 1)).toBe('')
  })
  it('names percentages by what they are a percentage of', () => {
    const words = table.views.map((view) => view.words)
    expect(words.slice(0, 3)).toEqual(['% within Water source', 'counts', '% within Illness'])
    expect(words.join()).not.toMatch(/row|column/)
  })
})

describe('the table', () => {
  const show = (isTransposed = false) =>
    mount(CrosstabTable, {
      props: {
        table,
        titles,
        noun: 'households',
        totals: 'households',
        cells: [
          ['a', 'b'],
          ['c', 'd'],
        ],
        isTransposed,
        marked: null,
        looked: null,
      },
      global: { plugins: [createVuetify()] },
    })
  const cells = (wrapper: ReturnType<typeof show>) =>
    wrapper.findAll('tbody td.cell').map((cell) => cell.text().replace(/\s+/g, ' '))

  it('shows shares with their counts, the event first', () => {
    expect(cells(show())[0]).toMatch(/^12\.2%.*118$/)
    expect(cells(show())[3]).toMatch(/^68\.6%.*234$/)
  })
  it('says in words what the marks say in colour', () => {
    expect(show().find('tbody td.cell').text()).toContain('fewer than expected')
  })
  it('keeps every number with its pair when it is exchanged', async () => {
    const wrapper = show(true)
    expect(wrapper.findAll('tbody th').map((head) => head.text())).toEqual(['Yes', 'No'])
    expect(cells(wrapper)[1]).toMatch(/^31\.4%.*107$/)
    await wrapper.findAll('tbody td.cell')[1]!.trigger('click')
    expect(wrapper.emitted('mark')).toEqual([[1, 1]])
  })
  it('changes what it shows', async () => {
    const wrapper = show()
    await wrapper.findAll('[role=radio]')[3]!.trigger('click')
    expect(cells(wrapper)[0]).toMatch(/^166\.3/)
  })
})

describe('questions in words', () => {
  const codebook = [
    entry('ill', ['No', 'Yes'], { label: 'Illness' }),
    entry('source', ['Piped', 'River'], { label: 'Water source' }),
    entry('age', [], { kind: 'numeric', label: 'Age' }),
  ]
  const subset: Subset = {
    any: [
      { variable: 'source', is: ['2'] },
      { variable: 'age', from: 18, to: null },
    ],
  }

  it('uses the labels of the codebook', () => {
    const question = { ...emptyQuestion(), outcome: { variable: 'ill', event: ['2'] } }
    expect(questionInWords({ title: '', question }, codebook)).toBe('How is Illness distributed?')
    question.vary_with = [{ variable: 'source', reference: null, per: null, with: null }]
    expect(questionInWords({ title: '', question }, codebook)).toBe(
      'How does Illness vary with Water source?',
    )
    expect(questionInWords({ title: 'Mine', question }, codebook)).toBe('Mine')
  })
  it('tells conditions', () => {
    expect(subsetInWords(subset, codebook)).toBe('Water source: River or Age 18 or more')
    const both: Subset = { all: [{ variable: 'age', from: 1, to: 5 }] }
    expect(subsetInWords(both, codebook)).toBe('Age 1 to 5')
    expect(subsetInWords({ all: [{ variable: 'ill', missing: true }] }, codebook)).toBe(
      'Illness not answered',
    )
  })
})

describe('what to look at in the codebook', () => {
  it('finds rare answers, single answers and much missing', () => {
    const rare = entry('x', ['a', 'b'])
    Object.assign(rare.summary, { counts: [990, 3] })
    expect(reasonsToLook(rare, 1000)[0]).toContain('“b” was answered only 3 times')
    const single = entry('x', ['a', 'b'])
    Object.assign(single.summary, { counts: [50, 0] })
    expect(reasonsToLook(single, 50)[0]).toContain('same answer')
    const missing = entry('x', ['a', 'b'])
    missing.summary.n_missing = 30
    expect(reasonsToLook(missing, 100)[0]).toContain('30%')
    expect(needsALook(entry('x', ['a', 'b']), 20)).toBe(false)
  })
})

it('shows labels as text, never as markup', () => {
  const text = 'The **odds** of <b>“ill”</b>'
  const wrapper = mount(RichText, { props: { text } })
  expect(wrapper.find('strong').text()).toBe('odds')
  expect(wrapper.find('b').exists()).toBe(false)
  expect(wrapper.text()).toContain('<b>“ill”</b>')
})

describe('terms of a sentence', () => {
  const asked: Question = {
    ...emptyQuestion(),
    vary_with: [{ variable: 'source' }],
    allowing_for: [{ variable: 'age' }, { variable: 'region' }],
  }
  it('act together once, whichever was named first', () => {
    const both = together(asked, 'vary_with', 'source', 'age')
    expect(both.vary_with).toEqual([{ variable: 'source' }, { variable: 'source', with: 'age' }])
    expect(together(both, 'allowing_for', 'age', 'source')).toBe(both)
  })
  it('go together with what they act together with', () => {
    const both = together(asked, 'vary_with', 'source', 'age')
    expect(withoutTerm(both, { variable: 'age' })).toMatchObject({
      vary_with: [{ variable: 'source' }],
      allowing_for: [{ variable: 'region' }],
    })
    expect(withoutTerm(both, { variable: 'source', with: 'age' })).toEqual(asked)
  })
  it('are read with the variables of interest first', () => {
    const terms = [{ role: 'allowing_for' as const }, { role: 'vary_with' as const }]
    expect(interestFirst(terms).map(({ role }) => role)).toEqual(['vary_with', 'allowing_for'])
    expect(namesIn(asked)).toEqual(['source', 'age', 'region'])
  })
})

describe('options', () => {
  it('are changed and taken out without touching the question', () => {
    const asked: Question = { ...emptyQuestion(), options: { cutoff: 0.2 } }
    expect(withOptions(asked, { cutoff: undefined, seed: 3 }).options).toEqual({ seed: 3 })
    expect(asked.options).toEqual({ cutoff: 0.2 })
  })
  it.each([
    ['2,5', 2.5],
    [' 10 ', 10],
    ['', null],
    ['often', null],
  ])('read the number in "%s"', (text, value) => expect(numberIn(text)).toBe(value))
})

it('a number field takes what makes sense, and says what does otherwise', async () => {
  const field = mount(NumberField, {
    props: { value: 95, label: 'Level, %', from: 50, to: 99.99 },
    global: { plugins: [createVuetify()] },
  })
  const input = field.get('input')
  await input.setValue('often')
  await input.trigger('change')
  expect(field.emitted('change')).toBeUndefined()
  expect(field.text()).toContain('From 50 to 99.99')
  await input.setValue('90,5')
  await input.trigger('change')
  expect(field.emitted('change')).toEqual([[90.5]])
})
