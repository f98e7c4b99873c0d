/** Forms that make variables of others: the step each would make, and what keeps them from making it. */
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount, type VueWrapper } from '@vue/test-utils'
import { createPinia } from 'pinia'
import { describe, expect, it } from 'vitest'
import type { Component } from 'vue'
import { createVuetify } from 'vuetify'

import type { DataSet, Entry, Study } from '@/api/types'
import BandEditor from '@/screens/codebook/BandEditor.vue'
import CalculateEditor from '@/screens/codebook/CalculateEditor.vue'
import DatesEditor from '@/screens/codebook/DatesEditor.vue'
import RegroupEditor from '@/screens/codebook/RegroupEditor.vue'
import YesNoEditor from '@/screens/codebook/YesNoEditor.vue'
import { api } from './api'
import { entry } from './entries'

function show(component: Component, props: { entry: Entry; codebook?: Entry[] }) {
  const plugins = [
    createVuetify(),
    createPinia(),
    [VueQueryPlugin, { queryClient: new QueryClient() }],
  ]
  const place = { study: { id: 's1' } as Study, dataset: { id: 'd1' } as DataSet }
  return mount(component as typeof BandEditor, {
    // Only bands are counted by the server before they are made.
    props: { ...(component === BandEditor && place), codebook: [props.entry], ...props } as never,
    global: { plugins: plugins as never },
  })
}
const field = (form: VueWrapper, label: string) => form.find(`[aria-label="${label}"]`)
const named = (form: VueWrapper, words: string) =>
  form.findAll('button').find((button) => button.text() === words)!
const boxOf = (form: VueWrapper, words: string) =>
  form
    .findAll('label')
    .find((label) => label.text().startsWith(words))!
    .find('input')
const submitted = async (form: VueWrapper) => {
  await form.find('form').trigger('submit')
  return form.emitted('step')?.at(-1)?.[0]
}
const button = (form: VueWrapper) => form.find('button[type=submit]')

describe('categories to new ones', () => {
  const town = entry('town', ['Norrin', 'Port', 'Estuary'], { label: 'Town' })

  it('puts those of one name together and counts them', async () => {
    const form = show(RegroupEditor, { entry: town })
    await field(form, 'New category of Port').setValue('Coast')
    await field(form, 'New category of Estuary').setValue('Coast ')
    expect(form.find('.sizes').text()).toBe('Norrin 10Coast 20')
    expect(await submitted(form)).toEqual({
      step: 'regroup',
      variable: 'town',
      name: 'town_regrouped',
      label: 'Town, regrouped',
      groups: [
        { label: 'Norrin', values: ['1'] },
        { label: 'Coast', values: ['2', '3'] },
      ],
    })
  })

  it('sets aside what has no new name, but not everything', async () => {
    const form = show(RegroupEditor, { entry: town })
    for (const label of ['Norrin', 'Port', 'Estuary'])
      await field(form, `New category of ${label}`).setValue('  ')
    expect(form.text()).toContain('Everything is set aside.')
    expect(button(form).attributes('disabled')).toBeDefined()
    await field(form, 'New category of Port').setValue('Port')
    expect(await submitted(form)).toMatchObject({ groups: [{ label: 'Port', values: ['2'] }] })
  })

  it('takes a name that no variable has yet', () => {
    const taken = entry('town_regrouped', ['a', 'b'])
    const form = show(RegroupEditor, { entry: town, codebook: [town, taken] })
    expect((form.find('.names input').element as HTMLInputElement).value).toBe('town_regrouped_2')
  })
})

describe('yes or no', () => {
  const water = entry('water', ['piped', 'well', 'river'])

  it('asks for some answers, and not for all of them', async () => {
    const form = show(YesNoEditor, { entry: water })
    expect(form.text()).toContain('Choose the answers that count as yes.')
    for (const answer of ['piped', 'well', 'river']) await boxOf(form, answer).setValue(true)
    expect(form.text()).toContain('Leave at least one answer for no.')
    await boxOf(form, 'piped').setValue(false)
    expect(await submitted(form)).toEqual({
      step: 'yes_no',
      variable: 'water',
      name: 'water_yes',
      label: 'water',
      event: ['2', '3'],
    })
  })

  it('begins with the event', async () => {
    const form = show(YesNoEditor, { entry: entry('ill', ['No', 'Yes'], { event: ['2'] }) })
    expect(await submitted(form)).toMatchObject({ event: ['2'] })
  })
})

describe('a number of several variables', () => {
  const items = ['tap', 'well', 'boiled'].map((name) =>
    entry(name, ['No', 'Yes'], { event: ['2'] }),
  )
  const age = entry('age', [], { kind: 'numeric', label: 'Age' })
  const weight = entry('weight', [], { kind: 'numeric', label: 'Weight' })
  const notes = entry('notes', [], { kind: 'text' })
  const codebook = [...items, age, weight, notes]

  it('counts answers of at least two, where enough are answered', async () => {
    const form = show(CalculateEditor, { entry: items[0]!, codebook })
    expect(form.text()).toContain('Choose at least two variables.')
    await boxOf(form, 'well').setValue(true)
    await boxOf(form, 'boiled').setValue(true)
    const least = form.find('.least input')
    await least.setValue('4')
    expect(form.text()).toContain('Answered: a whole number from 1 to 3.')
    await least.setValue('2')
    expect(await submitted(form)).toEqual({
      step: 'calculate',
      how: 'count',
      variables: ['tap', 'well', 'boiled'],
      name: 'score',
      label: 'Score',
      values: ['2'],
      at_least: 2,
    })
  })

  it('offers only what holds numbers for a sum, and finds it by name', async () => {
    const form = show(CalculateEditor, { entry: age, codebook })
    const offered = () => form.findAll('.list label').map((label) => label.text())
    expect(offered()).toEqual(['tap', 'well', 'boiled', 'Age', 'Weight'])
    await field(form, 'Find variables').setValue('wei')
    expect(offered()).toEqual(['Weight'])
  })

  it('takes the second from the first', async () => {
    const form = show(CalculateEditor, { entry: age, codebook })
    await form.find('input[value=difference]').setValue(true)
    expect(form.text()).toContain('Choose two variables.')
    expect(form.find('.least').exists()).toBe(false)
    await boxOf(form, 'Weight').setValue(true)
    expect(await submitted(form)).toMatchObject({
      how: 'difference',
      variables: ['age', 'weight'],
      values: [],
      at_least: null,
    })
  })
})

describe('what is made of dates', () => {
  const dated = (name: string, first: string | null): Entry => ({
    ...entry(name, [], { kind: 'date', label: name === 'seen' ? 'Day of the visit' : '' }),
    summary: { kind: 'dates', first, last: first, counts: [], n_missing: 0, missing: [] } as never,
  })
  const [seen, born] = [dated('seen', '2025-03-02'), dated('born', '1980-01-01')]

  it('bands months in a row, parts of the year, and before and after a day', async () => {
    const form = show(DatesEditor, { entry: seen })
    expect(await submitted(form)).toEqual({
      step: 'date_bands',
      variable: 'seen',
      by: 'month',
      first: '2025-03-02',
      last: '2025-03-02',
      name: 'seen_months',
      label: '',
    })
    await named(form, 'part of the year').trigger('click')
    await form.find('select').setValue('quarter')
    expect(await submitted(form)).toMatchObject({
      step: 'date_part',
      part: 'quarter',
      name: 'seen_quarter',
    })
    await named(form, 'on or after a day').trigger('click')
    await form.find('input[type=date]').setValue('')
    expect(form.text()).toContain('Say which day.')
    await form.find('input[type=date]').setValue('2025-06-01')
    expect(await submitted(form)).toMatchObject({ step: 'on_or_after', day: '2025-06-01' })
  })

  it('measures the time to another date, in either direction', async () => {
    const form = show(DatesEditor, { entry: seen, codebook: [seen, born] })
    await named(form, 'time between').trigger('click')
    const [direction, , unit] = form.findAll('select')
    expect(await submitted(form)).toMatchObject({ start: 'seen', end: 'born', unit: 'days' })
    await direction!.setValue(false)
    await unit!.setValue('full_years')
    expect(await submitted(form)).toEqual({
      step: 'time_between',
      start: 'born',
      end: 'seen',
      unit: 'full_years',
      name: 'full_years_to_born',
      label: '',
    })
  })

  it('says what is missing: a date, or another one', async () => {
    const form = show(DatesEditor, { entry: dated('empty', null) })
    expect(form.text()).toContain('There is no date to band.')
    await named(form, 'time between').trigger('click')
    expect(form.text()).toContain('There is no other variable with dates.')
    expect(button(form).attributes('disabled')).toBeDefined()
  })
})

describe('bands of a number', () => {
  const age: Entry = {
    ...entry('age', [], { kind: 'numeric', label: 'Age' }),
    summary: {
      kind: 'numbers',
      low: 10,
      high: 90,
      counts: [1, 4, 2],
      n_missing: 0,
      missing: [],
    } as never,
  }
  const banded = { ...entry('(bands)', ['below 40', '40 and more']), version: 0 }
  const open = async () => {
    api.GET.mockResolvedValue([40])
    api.POST.mockResolvedValue(banded)
    const form = show(BandEditor, { entry: age })
    await flushPromises()
    return form
  }

  it('begins with bands of equal counts and shows who is in each', async () => {
    const form = await open()
    expect(api.GET.mock.calls[0]![1].params.query).toEqual({ how: 'equal_count', bands: 4 })
    expect(field(form, 'Counts per band').text()).toBe('below 401040 and more10')
    await field(form, 'Number of bands').setValue(3)
    await named(form, 'of equal width').trigger('click')
    expect(api.GET.mock.calls[1]![1].params.query).toEqual({ how: 'equal_width', bands: 3 })
  })

  it('takes cuts with points or commas, in rising order only', async () => {
    const form = await open()
    const cuts = field(form, 'Cuts')
    await cuts.setValue('30 45,5; 60')
    expect(await submitted(form)).toEqual({
      step: 'band',
      variable: 'age',
      name: 'age_band',
      label: 'Age, banded',
      cuts: [30, 45.5, 60],
      labels: [],
    })
    for (const [typed, problem] of [
      ['', 'Give at least one cut.'],
      ['forty', 'Cuts are numbers, such as 30 45 60.'],
      ['60 30', 'Cuts must rise.'],
    ] as const) {
      await cuts.setValue(typed)
      expect(form.text()).toContain(problem)
      expect(button(form).attributes('disabled')).toBeDefined()
    }
  })

  it('moves a cut by the arrow keys, not past the next', async () => {
    const form = await open()
    const cuts = field(form, 'Cuts')
    await cuts.setValue('40; 41')
    await field(form, 'Cut 1').trigger('keydown.right')
    expect((cuts.element as HTMLInputElement).value).toBe('40; 41')
    await field(form, 'Cut 2').trigger('keydown.right')
    expect((cuts.element as HTMLInputElement).value).toBe('40; 42')
    expect(field(form, 'Cut 2').attributes('aria-valuenow')).toBe('42')
  })

  it('shows why the server refuses', async () => {
    const form = await open()
    api.POST.mockRejectedValueOnce(new Error('Nobody is above 95.'))
    await field(form, 'Cuts').setValue('95')
    await flushPromises()
    expect(form.text()).toContain('Nobody is above 95.')
  })
})
