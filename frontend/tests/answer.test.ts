/** Around the answer: checks, panels that are worked out when opened, tabs, three ways side by side. */
import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'
import { createVuetify } from 'vuetify'

import type { Check, LensOffered } from '@/api/types'
import AnswerMargin from '@/screens/ask/answer/AnswerMargin.vue'
import BesideTable from '@/screens/ask/answer/BesideTable.vue'
import CheckList from '@/screens/ask/answer/CheckList.vue'
import CountStrip from '@/screens/ask/answer/CountStrip.vue'
import DesignOffer from '@/screens/ask/answer/DesignOffer.vue'
import LensTabs from '@/screens/ask/answer/LensTabs.vue'
import PanelBox from '@/screens/ask/answer/PanelBox.vue'
import SampleBar from '@/screens/ask/answer/SampleBar.vue'
import UnreadSlots from '@/screens/ask/sentence/UnreadSlots.vue'
import { api } from './api'
import { cellsOf, sent, show } from './asked'

type Call = {
  params: { path: { panel: string } }
  headers: { 'Hobrix-Work': string }
  signal: AbortSignal
}
beforeEach(() => {
  api.POST.mockImplementation(
    async (_path: string, { params }: Call) => sent('odds').panels[params.path.panel],
  )
  api.GET.mockResolvedValue({ done: 0.437 })
  api.DELETE.mockResolvedValue(undefined)
})
const headIn = (answer: string, name: string) =>
  sent(answer).answer.answer.panels.find((each) => each.name === name)!
const head = (name: string) => headIn('odds', name)
const asked = () => api.POST.mock.calls.map(([, options]) => (options as Call).params.path.panel)

describe('a panel', () => {
  it('is worked out when it is opened, not before', async () => {
    const { wrapper, asking } = show(PanelBox, 'odds', { head: head('coefficients') })
    await flushPromises()
    expect(asked()).toEqual([])
    asking.panels.value.add('coefficients')
    await flushPromises()
    expect(asked()).toEqual(['coefficients'])
    expect(wrapper.get('.inside').text()).toContain('intercept')
  })
  it('that the server has nothing to add to asks for nothing', async () => {
    const { asking, wrapper } = show(PanelBox, 'crosstab', { head: headIn('crosstab', 'level') })
    asking.panels.value.add('level')
    await flushPromises()
    expect(asked()).toEqual([])
    expect(wrapper.get('.inside').text()).toContain('Level of confidence')
  })
  it('shows the cautions that concern it alone', async () => {
    api.POST.mockResolvedValue(sent('proportions').panels.plan)
    const { asking, wrapper } = show(PanelBox, 'proportions', {
      head: headIn('proportions', 'plan'),
    })
    asking.panels.value.add('plan')
    await flushPromises()
    expect(wrapper.get('.inside').text()).toContain('the smallest difference that would matter')
  })
  it('leaves those that belong to the answer to the margin', async () => {
    const { asking, wrapper } = show(PanelBox, 'odds', { head: head('fit') })
    asking.panels.value.add('fit')
    await flushPromises()
    expect(sent('odds').panels.fit!.panel.checks.length).toBeGreaterThan(0)
    expect(wrapper.find('.inside .checks').exists()).toBe(false)
  })
  it('waits for the answer it belongs to', async () => {
    const { asking } = show(PanelBox, 'odds', { head: head('fit') }, { isOld: true })
    asking.panels.value.add('fit')
    await flushPromises()
    expect(asked()).toEqual([])
  })
  it('says what went wrong inside itself', async () => {
    api.POST.mockRejectedValue(new Error('Nothing left to fit.'))
    const { asking, wrapper } = show(PanelBox, 'odds', { head: head('fit') })
    asking.panels.value.add('fit')
    await flushPromises()
    expect(wrapper.get('.inside').text()).toContain('Nothing left to fit.')
  })
})

describe('a panel that takes long', () => {
  beforeEach(() => {
    vi.useFakeTimers()
    api.POST.mockImplementation(
      (_path: string, { signal }: Call) =>
        new Promise((_, reject) => signal.addEventListener('abort', () => reject(signal.reason))),
    )
  })
  afterEach(() => vi.useRealTimers())

  it('tells how far it is, can be stopped, and goes on when asked to', async () => {
    const { asking, wrapper } = show(PanelBox, 'odds', { head: head('fit') })
    asking.panels.value.add('fit')
    await vi.advanceTimersByTimeAsync(1100)
    const inside = wrapper.get('.inside')
    expect(inside.text()).toContain('43% done')
    await inside.get('button').trigger('click')
    await vi.advanceTimersByTimeAsync(10)
    expect(inside.text()).toContain('Stopped.')
    const { headers } = api.POST.mock.calls[0]![1] as Call
    const ended = api.DELETE.mock.calls.map(([, o]) => (o as { params: never }).params['path'])
    expect(ended).toEqual([{ study_id: 's1', token: headers['Hobrix-Work'] }])
    await inside.get('button').trigger('click')
    await vi.advanceTimersByTimeAsync(10)
    expect(api.POST).toHaveBeenCalledTimes(2)
  })
})

describe('checks', () => {
  const check = (status: Check['status'], text: string): Check => ({
    ...{ id: text, status, text },
    remedies: [],
  })
  const checks = [check('fail', 'Bad.'), check('ok', 'Good.'), check('ok', 'Fine.')]

  it('that hold are folded into one line, the others stand open', () => {
    const { wrapper } = show(CheckList, 'odds', { checks })
    expect(wrapper.get('ul').text()).toContain('Bad.')
    expect(wrapper.get('ul').text()).not.toContain('Good.')
    const folded = wrapper.get('details')
    expect(folded.attributes('open')).toBeUndefined()
    expect(folded.get('summary').text()).toContain('2 checks hold')
    expect(folded.text()).toContain('Fine.')
  })
  it('bring their remedies: another question, a part to open, the codebook', async () => {
    const { question } = sent('crosstab').answer.answer
    const remedy = { label: '', question: null, panel: null, codebook_variable: null }
    const remedies = [
      { ...remedy, label: 'Ask otherwise', question },
      { ...remedy, label: 'Look at the fit', panel: 'fit' },
      { ...remedy, label: 'Mend the codebook', codebook_variable: 'age' },
    ]
    const checks = [{ ...check('care', 'Careful.'), remedies }]
    const { wrapper, changed, asking } = show(CheckList, 'odds', { checks })
    const [ask, look] = wrapper.findAll('button.remedy')
    await ask!.trigger('click')
    expect(changed).toEqual([question])
    await look!.trigger('click')
    expect(asking.panels.value.has('fit')).toBe(true)
    expect(wrapper.find('router-link-stub').exists()).toBe(true)
  })
  it('that a panel works out come after those of the answer, and join the write-up', async () => {
    const { wrapper } = show(AnswerMargin, 'odds')
    const { answer } = sent('odds').answer
    expect(wrapper.text()).toContain(answer.write_up)
    const late = answer.panels.filter(({ checks }) => checks).map(({ name }) => name)
    expect(late.length).toBeGreaterThan(0)
    await flushPromises()
    expect(asked().sort()).toEqual([...late].sort())
    const { checks, write_up } = sent('odds').panels.fit!.panel
    for (const { text } of checks) expect(wrapper.text()).toContain(text)
    expect(wrapper.get('.paper p').text()).toBe(`${answer.write_up} ${write_up}`.trim())
  })
})

describe('tabs', () => {
  const lens = (name: string, why_not: string | null = null) =>
    ({ name, title: name.toUpperCase(), why_not, forms: [] }) as unknown as LensOffered
  const lenses = [lens('one'), lens('two', 'Needs an event.'), lens('three')]
  const tabs = () => mount(LensTabs, { props: { lens: 'one', lenses } })

  it('say why they cannot answer', () => {
    const closed = tabs().get('[data-lens=two]')
    expect(closed.attributes('aria-disabled')).toBe('true')
    expect(closed.attributes('title')).toBe('Needs an event.')
  })
  it('are moved between by arrows, past those that cannot answer', async () => {
    const shown = tabs()
    await shown.get('[role=tablist]').trigger('keydown', { key: 'ArrowRight' })
    await shown.get('[role=tablist]').trigger('keydown', { key: 'ArrowLeft' })
    expect(shown.emitted('choose')).toEqual([[lenses[2]], [lenses[2]]])
  })
  it('a click on one that cannot answer is told too, so that the sentence shows why', async () => {
    const shown = tabs()
    await shown.get('[data-lens=two]').trigger('click')
    expect(shown.emitted('choose')).toEqual([[lenses[1]]])
  })
})

describe('the sample', () => {
  it('is counted otherwise in one click', async () => {
    const { answer } = sent('crosstab weighted').answer
    const { wrapper, changed } = show(SampleBar, 'crosstab weighted', { sample: answer.sample })
    const [beside, without, weights] = wrapper.findAll('button')
    await beside!.trigger('click')
    await weights!.trigger('click')
    await without!.trigger('click')
    expect(changed[0]!.options.beside).toBe(true)
    expect(changed[1]!.counted_by).toMatchObject({ weights: 'weight' })
    expect(changed[1]!.counted_by).not.toHaveProperty('strata', 'district')
    expect(changed[2]!.counted_by).toEqual({ kind: 'each' })
  })
  it('three ways of counting stand side by side, in the order they are named', () => {
    const { beside } = sent('crosstab beside').answer.answer
    const { wrapper } = show(BesideTable, 'crosstab beside', { beside, noun: 'household' })
    expect(wrapper.findAll('tbody tr')).toHaveLength(beside!.rows.length)
    expect(wrapper.get('thead').text()).toContain('each household once')
    const share = beside!.rows.findIndex(({ unit }) => unit === 'share')
    const cells = cellsOf(wrapper, `tbody tr:nth-child(${share + 1})`)
    expect(cells.slice(1).every((cell) => cell.includes('%'))).toBe(true)
    expect(wrapper.text()).toContain(beside!.moved)
  })
  it('with a design recorded but not used, the design is offered', async () => {
    const { counted_by } = sent('crosstab weighted').answer.answer.question
    const { wrapper, changed } = show(DesignOffer, 'crosstab', {}, { dataset: { counted_by } })
    await wrapper.get('button').trigger('click')
    expect(changed[0]!.counted_by).toEqual(counted_by)
    await nextTick()
    expect(wrapper.find('button').exists()).toBe(false)
  })
})

describe('a slot the lens does not read', () => {
  const { question } = sent('odds').answer.answer
  const asked = { ...question, lens: 'crosstab' as const }

  it('is said, with the lens that reads it', async () => {
    const { wrapper, changed } = show(UnreadSlots, 'odds', {}, { question: asked })
    expect(wrapper.text()).toContain(
      'Crosstab does not allow for Age of head and Schooling of head.',
    )
    await wrapper.get('button').trigger('click')
    expect(changed[0]).toMatchObject({ lens: 'odds', allowing_for: question.allowing_for })
  })
  it('is said with the reason where no lens can', () => {
    const lenses = sent('odds').lenses.map((each) =>
      each.name === 'odds' ? { ...each, why_not: 'Choose an event first.' } : each,
    )
    const { wrapper } = show(UnreadSlots, 'odds', {}, { question: asked, lenses })
    expect(wrapper.find('button').exists()).toBe(false)
    expect(wrapper.text()).toContain('Choose an event first.')
  })
  it('nothing is said where the lens reads all', () => {
    expect(show(UnreadSlots, 'odds').wrapper.text()).toBe('')
  })
})

describe('who is counted', () => {
  it('keeps its place until it is known', async () => {
    const strip = mount(CountStrip, { global: { plugins: [createVuetify()] } })
    expect(strip.find('[aria-label="Who is counted"]').exists()).toBe(false)
    expect(strip.find('p.awaited').exists()).toBe(true)
    await strip.setProps({ counted: sent('crosstab').answer.answer.counted })
    expect(strip.get('[aria-label="Who is counted"]').text()).toContain('surveyed')
    expect(strip.find('p.awaited').exists()).toBe(false)
  })
})
