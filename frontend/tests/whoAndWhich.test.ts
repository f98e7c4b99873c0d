/** Who an answer sets aside, and which categories a question uses in its own way. */
import { DOMWrapper, flushPromises } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'

import CategoriesPanel from '@/screens/ask/answer/CategoriesPanel.vue'
import SetAsidePanel from '@/screens/ask/answer/SetAsidePanel.vue'
import { api } from './api'
import { codebook, sent, show } from './asked'

describe('categories for this question only', () => {
  const source = codebook.find(({ variable }) => variable.name === 'source')!.variable
  const values = source.categories.map(({ value }) => value)
  const open = () => {
    const { wrapper, changed, answer } = show(CategoriesPanel, 'crosstab')
    const section = () =>
      wrapper.findAll('section').find((each) => each.find('h3').text() === source.label)!
    const act = (words: string) =>
      section()
        .findAll('.acts button')
        .find((button) => button.text() === words)
    const recast = () => changed.at(-1)!.options.categories.source!
    const choose = async (...at: number[]) => {
      for (const i of at) await section().findAll('li input')[i]!.setValue(true)
    }
    return { wrapper, answer, section, act, recast, choose, changed }
  }

  it('are those of the outcome and of what it varies with', () => {
    const { wrapper, section } = open()
    expect(wrapper.findAll('section')).toHaveLength(2)
    const labels = section()
      .findAll('li span')
      .map((label) => label.text())
    expect(labels).toEqual(source.categories.map(({ label }) => label))
  })

  it('are left out, or combined where two at least are chosen', async () => {
    const { act, choose, recast } = open()
    expect(act('Leave out')!.attributes('disabled')).toBeDefined()
    await choose(0)
    expect(act('Combine')!.attributes('disabled')).toBeDefined()
    await choose(2)
    await act('Combine')!.trigger('click')
    expect(recast()).toEqual({
      leave_out: [],
      combine: [[values[0], values[2]]],
      order: [],
      missing: false,
    })
    await choose(1)
    await act('Leave out')!.trigger('click')
    expect(recast().leave_out).toEqual([values[1]])
  })

  it('are put in another order, which stops at the ends', async () => {
    const { section, recast, changed } = open()
    const button = (i: number, way: string) => section().findAll(`li [aria-label$="${way}"]`)[i]!
    await button(0, ' up').trigger('click')
    expect(changed).toHaveLength(0)
    await button(0, ' down').trigger('click')
    expect(recast().order).toEqual([values[1], values[0], ...values.slice(2)])
  })

  it('hold no answer as one of them, and go back to the codebook', async () => {
    const { section, act, recast, answer, changed } = open()
    expect(act('As in the codebook')).toBeUndefined()
    await section().find('.acts input').setValue(true)
    expect(recast().missing).toBe(true)
    answer.value!.answer.question = changed.at(-1)!
    await flushPromises()
    await act('As in the codebook')!.trigger('click')
    expect(changed.at(-1)!.options.categories).toEqual({})
  })
})

describe('those set aside', () => {
  const rows = [{ row: 1204, lacking: ['Illness', 'Age'], cells: ['', '34'] }]
  const comparison = [
    { title: 'Sex', p: 0.031, answers: [{ label: 'Women', counted: 0.52, set_aside: 0.6 }] },
    { title: 'District', p: null, answers: [{ label: 'Port', counted: 0.2, set_aside: null }] },
  ]
  const open = async (total: number) => {
    api.POST.mockResolvedValue({ total, names: ['ill', 'age'], rows, comparison })
    show(SetAsidePanel, 'crosstab')
    await flushPromises()
    return new DOMWrapper(document.body)
  }

  it('are shown as rows with what they lack, beside those counted', async () => {
    const there = await open(1)
    const { question } = sent('crosstab').answer.answer
    expect(api.POST.mock.calls[0]![1].body).toEqual({
      dataset: 'd1',
      question,
      offset: 0,
      limit: 50,
    })
    const cells = there.findAll('.rows tbody th, .rows tbody td').map((cell) => cell.text())
    expect(cells).toEqual(['1,204', 'Illness, Age', '', '34'])
    const [sex, district] = there.findAll('.compared table')
    expect(sex!.text()).toContain('Women52.0%60.0%')
    expect(sex!.find('tfoot').text()).toBe('Among those who answered it: p = 0.031')
    expect(district!.find('tfoot').text()).toBe('Nobody set aside answered this.')
  })

  it('are gone through page by page', async () => {
    const there = await open(120)
    const page = () => there.find('.pages span').text()
    const [before, after] = there.findAll('.pages button')
    expect(page()).toBe('1 to 50 of 120')
    expect(before!.attributes('disabled')).toBeDefined()
    await after!.trigger('click')
    await flushPromises()
    await after!.trigger('click')
    await flushPromises()
    expect(api.POST.mock.calls.at(-1)![1].body.offset).toBe(100)
    expect(page()).toBe('101 to 120 of 120')
    expect(after!.attributes('disabled')).toBeDefined()
    await before!.trigger('click')
    await flushPromises()
    expect(page()).toBe('51 to 100 of 120')
  })

  it('say why they cannot be shown', async () => {
    api.POST.mockRejectedValueOnce(new Error('The data are away.'))
    show(SetAsidePanel, 'crosstab')
    await flushPromises()
    expect(document.body.textContent).toContain('The data are away.')
  })
})
