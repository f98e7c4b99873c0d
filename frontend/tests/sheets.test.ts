/** Every lens shows every answer, with and without a design, in words and numbers a person reads. */
import { flushPromises } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'

import AnswerSheet from '@/screens/ask/answer/AnswerSheet.vue'
import { lenses } from '@/screens/ask/lenses'
import { api } from './api'
import { names, sent, show } from './asked'

type Call = { params: { path: { panel: string } } }
let name = ''
beforeEach(() => {
  api.POST.mockImplementation((path: string, { params }: Call) =>
    // What looks beyond the answer keeps waiting here.
    path.endsWith('{panel}') ? sent(name).panels[params.path.panel] : new Promise(() => {}),
  )
})

describe.each(names)('%s', (each) => {
  beforeEach(() => {
    name = each
  })
  const { answer } = sent(each).answer

  it('is shown with its lead, its figures and its evidence', () => {
    const { wrapper } = show(AnswerSheet, each)
    const text = wrapper.text().replace(/\s+/g, ' ')
    expect(text).toContain(answer.reading.lead.replaceAll('**', ''))
    for (const { label, value } of answer.reading.figures) {
      expect(text).toContain(label)
      expect(text).toContain(value)
    }
    expect(wrapper.findAll('table').length).toBeGreaterThan(0)
    expect(wrapper.find('[aria-label="The sample"]').exists()).toBe(!!answer.sample)
  })

  it('opens every panel it names', async () => {
    const { wrapper, asking } = show(AnswerSheet, each)
    const known = Object.keys(lenses[answer.lens]!.panels)
    expect(known).toEqual(expect.arrayContaining(answer.panels.map(({ name }) => name)))
    for (const panel of answer.panels) asking.panels.value.add(panel.name)
    await flushPromises()
    for (const panel of answer.panels) {
      const inside = wrapper.get(`[data-panel="${panel.name}"] .inside`)
      expect(inside.element.children.length).toBeGreaterThan(0)
      expect(inside.text()).not.toBe('Working it out…')
    }
    expect(wrapper.text()).not.toMatch(/NaN|undefined|\bnull\b(?! hypothesis)|\[object|Infinity/)
    // Minus signs are true, and no zero is negative.
    expect(wrapper.text()).not.toMatch(/(^|[\s(])-\d|−0\.0*(\D|$)/)
  })
})
