/** A lens is one line in the registry: a throw-away fifth is shown with its tab, its sheet and panel. */
import { mount } from '@vue/test-utils'
import { afterEach, beforeEach, expect, it } from 'vitest'
import { defineComponent, h, nextTick } from 'vue'

import AnswerSheet from '@/screens/ask/answer/AnswerSheet.vue'
import LensTabs from '@/screens/ask/answer/LensTabs.vue'
import { lenses } from '@/screens/ask/lenses'
import { sent, show } from './asked'

const says = (text: string) => defineComponent({ setup: () => () => h('p', text) })
beforeEach(() => {
  lenses.tally = {
    sheet: says('Counted on fingers.'),
    panels: { toes: says('Counted on toes.') },
  }
})
afterEach(() => delete lenses.tally)

it('has its tab among the others', async () => {
  const lenses = sent('crosstab').lenses
  const fifth = { ...lenses[0]!, name: 'tally' as never, title: 'Tally' }
  const tabs = mount(LensTabs, { props: { lens: 'crosstab', lenses: [...lenses, fifth] } })
  expect(tabs.findAll('[role=tab]').map((tab) => tab.text())).toContain('Tally')
  await tabs.get('[data-lens=tally]').trigger('click')
  expect(tabs.emitted('choose')).toEqual([[fifth]])
})

it('shows its answer and what can be opened', async () => {
  const { wrapper, answer, asking } = show(AnswerSheet, 'crosstab')
  const { answer: found } = answer.value!
  const head = { ...found.panels[0]!, name: 'toes', title: 'Toes', opens: false, finds: false }
  answer.value = {
    answer: { ...found, lens: 'tally' as never, panels: [head] },
    figures: {},
  }
  await nextTick()
  expect(wrapper.text()).toContain('Counted on fingers.')
  expect(wrapper.text()).not.toContain('Counted on toes.')
  asking.panels.value.add('toes')
  await nextTick()
  expect(wrapper.get('[data-panel=toes]').text()).toContain('Counted on toes.')
})
