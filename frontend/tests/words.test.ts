/** Questions and terms in words, what to look at, and the first questions to ask. */
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { createVuetify } from 'vuetify'

import type { Question, Subset } from '@/api/types'
import NumberField from '@/parts/NumberField.vue'
import RichText from '@/parts/RichText.vue'
import { subsetInWords } from '@/parts/subset/words'
import { numberIn } from '@/parts/typed'
import FirstQuestions from '@/screens/ask/lines/FirstQuestions.vue'
import { firstQuestions } from '@/screens/ask/lines/firstQuestions'
import { namesIn, together, withoutTerm } from '@/screens/ask/sentence/terms'
import { emptyQuestion, questionInWords, turned, underTitle, withFirst } from '@/screens/ask/words'
import { needsALook, reasonsToLook } from '@/screens/codebook/look'
import { codebook as demo, show } from './asked'
import { entry } from './entries'

const codebook = [
  entry('ill', ['No', 'Yes'], { label: 'Illness', event: ['2'] }),
  entry('source', ['Piped', 'River'], { label: 'Water source' }),
  entry('age', [], { kind: 'numeric', label: 'Age' }),
]

describe('questions in words', () => {
  const subset: Subset = {
    any: [
      { variable: 'source', is: ['2'] },
      { variable: 'age', from: 18, to: null },
    ],
  }

  it('use the labels of the codebook', () => {
    const question = emptyQuestion({ outcome: { variable: 'ill', event: ['2'] } })
    expect(questionInWords({ title: '', question }, codebook)).toBe('How is Illness distributed?')
    question.vary_with = [{ variable: 'source', reference: null, per: null, with: null }] as never
    expect(questionInWords({ title: '', question }, codebook)).toBe(
      'How does Illness vary with Water source?',
    )
    expect(questionInWords({ title: 'Mine', question }, codebook)).toBe('Mine')
  })
  it('tell conditions', () => {
    expect(subsetInWords(subset, codebook)).toBe('Water source: River or Age 18 or more')
    const both: Subset = { all: [{ variable: 'age', from: 1, to: 5 }] }
    expect(subsetInWords(both, codebook)).toBe('Age 1 to 5')
    expect(subsetInWords({ all: [{ variable: 'ill', missing: true }] }, codebook)).toBe(
      'Illness not answered',
    )
  })
  it('drop a title only where it stands in front', () => {
    expect(underTitle('Home flooded: Yes', 'Home flooded')).toBe('Yes')
    expect(underTitle('River', 'Water source')).toBe('River')
  })
})

describe('the event turned round', () => {
  const ill = codebook[0]!.variable

  it('is the other answers, whether it was asked or the codebook says it', () => {
    const question = emptyQuestion({ outcome: { variable: 'ill', event: [] } })
    expect(turned(question, ill)).toEqual({ outcome: { variable: 'ill', event: ['1'] } })
    const asked = emptyQuestion({ outcome: { variable: 'ill', event: ['1'] } })
    expect(turned(asked, ill)).toEqual({ outcome: { variable: 'ill', event: ['2'] } })
  })
  it('stays as it is where there is none', () => {
    const question = emptyQuestion({ outcome: { variable: 'source', event: [] } })
    expect(turned(question, codebook[1]!.variable)).toBeUndefined()
    expect(turned(emptyQuestion(), undefined)).toBeUndefined()
  })
})

describe('terms of a sentence', () => {
  const asked = emptyQuestion({
    vary_with: [{ variable: 'source' }] as never,
    allowing_for: [{ variable: 'age' }, { variable: 'region' }] as never,
  })
  it('act together once, whichever was named first', () => {
    const both = together(asked, 'vary_with', 'source', 'age')
    expect(both.vary_with).toEqual([{ variable: 'source' }, { variable: 'source', with: 'age' }])
    expect(together(both, 'allowing_for', 'age', 'source')).toBe(both)
  })
  it('go together with what they act together with', () => {
    const both = together(asked, 'vary_with', 'source', 'age')
    expect(withoutTerm(both, { variable: 'age' } as never)).toMatchObject({
      vary_with: [{ variable: 'source' }],
      allowing_for: [{ variable: 'region' }],
    })
    expect(withoutTerm(both, { variable: 'source', with: 'age' } as never)).toEqual(asked)
  })
  it('are named once each', () => expect(namesIn(asked)).toEqual(['source', 'age', 'region']))
  it('chosen, come first, the others in their order', () => {
    const question = emptyQuestion({
      vary_with: ['a', 'b', 'c'].map((variable) => ({ variable })) as never,
    })
    const names = (of: Question) => of.vary_with.map(({ variable }) => variable)
    expect(names(withFirst(question, 'c'))).toEqual(['c', 'a', 'b'])
    expect(withFirst(question, 'a')).toBe(question)
    expect(withFirst(question, 'z')).toBe(question)
  })
})

describe('the first questions', () => {
  const asked = (...entries: ReturnType<typeof entry>[]) =>
    firstQuestions(entries.map(({ variable }) => variable)).map(({ outcome, by }) => [
      outcome.name,
      by?.name,
    ])
  it('are about the variable with an event', () => {
    const sex = entry('sex', ['Man', 'Woman'])
    const region = entry('region', ['a', 'b', 'c', 'd'])
    expect(asked(sex, region, codebook[0]!)).toEqual([
      ['ill', undefined],
      ['ill', 'region'],
      ['ill', 'sex'],
    ])
  })
  it('take the columns of a typed table of two as outcome', () => {
    expect(asked(entry('rows', ['a', 'b']), entry('columns', ['c', 'd']))).toEqual([
      ['columns', undefined],
      ['columns', 'rows'],
    ])
  })
  it('are about the last of those with two answers where none has an event', () => {
    const [sex, heard] = [entry('sex', ['m', 'f']), entry('heard', ['yes', 'no'])]
    expect(asked(sex, entry('town', ['a', 'b', 'c']), heard)[1]).toEqual(['heard', 'town'])
  })
  it('are rather about 0 and 1 than about two words', () => {
    const codes = [0, 1].map((value) => ({ value: String(value), label: String(value) }))
    const ill = entry('ill', [], { categories: codes })
    const notes = entry('notes', ['called back', 'said later'])
    expect(asked(entry('town', ['a', 'b', 'c']), ill, notes)[0]).toEqual(['ill', undefined])
  })
  it('are not about text', () => {
    expect(asked(entry('name', [], { kind: 'text' }))).toEqual([])
    expect(asked(entry('age', [], { kind: 'numeric' }))).toEqual([['age', undefined]])
  })
  it('are asked in one click, through the lens that answers them', async () => {
    const { wrapper, changed } = show(FirstQuestions, 'crosstab')
    const [, second] = wrapper.findAll('button')
    expect(second!.text()).toMatch(/^How does .* vary with .*\?$/)
    await second!.trigger('click')
    const { outcome, vary_with, lens } = changed[0]!
    expect(demo.find(({ variable }) => variable.name === outcome!.variable)).toBeDefined()
    expect(vary_with).toHaveLength(1)
    expect(lens).toBe('crosstab')
  })
})

describe('what to look at in the codebook', () => {
  it('are rare answers, single answers and much missing', () => {
    const rare = entry('x', ['a', 'b'])
    Object.assign(rare.summary, { counts: [990, 3] })
    expect(reasonsToLook(rare, 1000)[0]!.text).toContain('“b” was answered only 3 times')
    const single = entry('x', ['a', 'b'])
    Object.assign(single.summary, { counts: [50, 0] })
    expect(reasonsToLook(single, 50)[0]!.text).toContain('same answer')
    const missing = entry('x', ['a', 'b'])
    missing.summary.n_missing = 30
    expect(reasonsToLook(missing, 100)[0]!.text).toContain('30%')
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

it.each([
  ['2,5', 2.5],
  [' 10 ', 10],
  ['', null],
  ['often', null],
])('reads the number in "%s"', (text, value) => expect(numberIn(text)).toBe(value))

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
