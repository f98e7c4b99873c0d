/** Forms that make weights: what they ask for, and what they plan to make. */
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { createPinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import { createVuetify } from 'vuetify'
import { VSelect } from 'vuetify/components'

import type { DataSet, Entry, Study } from '@/api/types'
import NetworkWeights from '@/screens/data/NetworkWeights.vue'
import RakeWeights from '@/screens/data/RakeWeights.vue'
import WeightsTable from '@/screens/data/WeightsTable.vue'
import { api } from './api'
import { cellsOf } from './asked'
import { entry } from './entries'

type Sent = { body: { step: Record<string, unknown>; seen?: Record<string, number> } }

const spread = { n: 90, total: 90, least: 0.5, most: 2, effect: 1.25, effective: 72 }
const look = {
  before: spread,
  after: spread,
  left_out: 0,
  rounds: 4,
  margins: [],
  assumption: 'So.',
}
const codebook: Entry[] = [
  entry('w', [], { kind: 'numeric', label: 'Weight' }),
  entry('known', [], { kind: 'numeric', label: 'People known' }),
  entry('part', ['North', 'South'], { label: 'Part' }),
]
const props = {
  study: { id: 's1' } as Study,
  dataset: { id: 'd1', noun_one: 'person', noun_many: 'people' } as DataSet,
  codebook,
}

function show(component: typeof RakeWeights | typeof NetworkWeights, more = {}) {
  const plugins = [
    createVuetify(),
    createPinia(),
    [VueQueryPlugin, { queryClient: new QueryClient() }],
  ]
  return mount(component as typeof RakeWeights, {
    props: { ...props, ...more },
    global: { plugins: plugins as never },
  })
}
const choose = async (form: ReturnType<typeof show>, label: string, value: unknown) => {
  const select = form.findAllComponents(VSelect).find((each) => each.props('label') === label)!
  await select.setValue(value)
  await flushPromises()
}
const planned = () =>
  api.POST.mock.calls
    .filter(([path]) => (path as string).endsWith('/weights'))
    .map(([, sent]) => (sent as Sent).body.step)
const problem = (form: ReturnType<typeof show>) =>
  form
    .findAll('[role="alert"]')
    .map((each) => each.text())
    .join('')

beforeEach(() => {
  api.POST.mockImplementation(async (path: string, { body }: Sent) =>
    path.endsWith('/weights') ? look : { words: `Made ${String(body.step.name)}` },
  )
})

describe('weights fitted to totals', () => {
  it('say what is missing, then plan what was typed', async () => {
    const form = show(RakeWeights, { weights: 'w' })
    // Nothing is wrong yet.
    expect(form.text()).toContain('Choose a variable whose totals are known')
    expect(problem(form)).toBe('')
    await choose(form, 'Totals are known of', ['part'])
    const total = (label: string) => form.get(`[aria-label="Known total of ${label}"]`)
    await total('North').setValue('12,5')
    expect(problem(form)).toContain('“South” needs a count or a share above 0')
    expect(planned()).toEqual([])
    await total('South').setValue('37.5')
    await flushPromises()
    expect(planned().at(-1)).toMatchObject({
      step: 'rake',
      variable: 'w',
      margins: [{ variable: 'part', totals: { 1: 12.5, 2: 37.5 } }],
      population: null,
      most_change: null,
    })
    expect(form.text()).toContain('Every total is met after 4 rounds.')
  })
  it('take totals pasted as a column', async () => {
    const form = show(RakeWeights)
    await choose(form, 'Totals are known of', ['part'])
    const field = form.get('[aria-label="Known total of North"]')
    await field.trigger('paste', { clipboardData: { getData: () => 'South\t30\nNorth\t70' } })
    await flushPromises()
    expect(planned().at(-1)).toMatchObject({
      variable: null,
      margins: [{ totals: { 1: 70, 2: 30 } }],
    })
  })
  it.each([
    ['Adding up to', 'many', 'The population must be a number above 0'],
    ['Changed at most ×', '1', 'A weight may change by a factor above 1'],
  ])('%s “%s” is refused beside the form', async (label, text, words) => {
    const form = show(RakeWeights, { weights: 'w' })
    await choose(form, 'Totals are known of', ['part'])
    for (const part of ['North', 'South'])
      await form.get(`[aria-label="Known total of ${part}"]`).setValue('1')
    const field = form.findAll('.v-text-field').find((each) => each.text().includes(label))!
    await field.get('input').setValue(text)
    expect(problem(form)).toContain(words)
  })
  it('are made under the name chosen, on the variables as they were seen', async () => {
    const form = show(RakeWeights, { weights: 'w' })
    await choose(form, 'Totals are known of', ['part'])
    for (const part of ['North', 'South'])
      await form.get(`[aria-label="Known total of ${part}"]`).setValue('1')
    await form.get('form').trigger('submit')
    await flushPromises()
    const [, sent] = api.POST.mock.calls.find(([path]) => (path as string).endsWith('/steps'))!
    expect((sent as Sent).body.step).toMatchObject({
      name: 'fitted_weight',
      label: 'Fitted weight',
    })
    expect((sent as Sent).body.seen).toEqual({ w: 1, part: 1 })
    expect(form.emitted('made')).toEqual([['fitted_weight']])
  })
  it('that the server refuses stay in the form, with the reason', async () => {
    api.POST.mockImplementation(async (path: string) => {
      if (path.endsWith('/steps')) throw new Error('Nobody is “South”.')
      return look
    })
    const form = show(RakeWeights, { weights: 'w' })
    await choose(form, 'Totals are known of', ['part'])
    for (const part of ['North', 'South'])
      await form.get(`[aria-label="Known total of ${part}"]`).setValue('1')
    await form.get('form').trigger('submit')
    await flushPromises()
    expect(form.text()).toContain('Nobody is “South”.')
    expect(form.emitted('made')).toBeUndefined()
    const north = form.get<HTMLInputElement>('[aria-label="Known total of North"]')
    expect(north.element.value).toBe('1')
  })
})

describe('weights from network sizes', () => {
  it.each([
    ['0', '', 'The lowest size must be a number above 0'],
    ['5', '5', 'The highest size must be a number above the lowest'],
    ['2', 'lots', 'The highest size must be a number above the lowest'],
  ])('bounds %s and %s are refused', async (lowest, highest, words) => {
    const form = show(NetworkWeights)
    expect(form.text()).toContain('Choose the variable that holds the number of people known')
    await choose(form, 'Number of people known', 'known')
    const [low, high] = form.findAll('.v-text-field input[inputmode="decimal"]')
    await low!.setValue(lowest)
    await high!.setValue(highest)
    expect(problem(form)).toContain(words)
  })
  it('plan the bounds and tell the assumption', async () => {
    const form = show(NetworkWeights)
    await choose(form, 'Number of people known', 'known')
    expect(planned().at(-1)).toMatchObject({
      step: 'network_weights',
      variable: 'known',
      lowest: 1,
      highest: null,
    })
    expect(form.text()).toContain('So.')
  })
})

it('weights before and after say whom they leave out', () => {
  const spread = { n: 90, total: 90, least: 0.5, most: 2, effect: 1.25, effective: 72 }
  const table = mount(WeightsTable, {
    props: {
      look: {
        before: spread,
        after: { ...spread, total: 1000 },
        left_out: 10,
        rounds: 3,
        margins: [
          {
            variable: 'a',
            title: 'Area',
            rows: [{ value: '1', label: 'North', n: 40, before: 0.4, asked: 0.5, after: 0.5 }],
          },
        ],
        assumption: 'Assumes much.',
      },
      noun: { one: 'person', many: 'people' },
    },
  })
  expect(table.text().replace(/\s+/g, ' ')).toContain(
    'Every total is met after 3 rounds. 10 people without an answer to all of these get no weight. Assumes much.',
  )
  expect(cellsOf(table, 'table:nth-of-type(2) tbody tr')).toEqual([
    'North',
    '40',
    '40.0%',
    '50.0%',
    '50.0%',
  ])
})
