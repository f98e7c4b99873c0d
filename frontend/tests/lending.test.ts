/** Lenders that answer or are away, what they offer, and terms that are accepted before a look. */
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { createPinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Component } from 'vue'
import { createVuetify } from 'vuetify'

import type { DataSet, Schemas, Study } from '@/api/types'
import DataSetList from '@/screens/data/DataSetList.vue'
import LenderList from '@/screens/data/LenderList.vue'
import TermsAsked from '@/parts/TermsAsked.vue'
import TermsOfUse from '@/screens/data/TermsOfUse.vue'
import { api } from './api'
import { router } from './brought'

const offer = (changes: Partial<Schemas['Offer']> = {}): Schemas['Offer'] => ({
  name: 'visits',
  title: 'Visits in the valley',
  description: 'Households visited again.',
  years: '2031',
  rows: 1046,
  case: 'hh',
  order: 'round',
  terms: 'For this study.',
  note: 'preliminary',
  version: '1',
  size: 10,
  variables: [{ name: 'sick', label: 'Stomach illness' }],
  ...changes,
})
const lenders: Schemas['LenderOut'][] = [
  { id: 1, name: 'Valley office', offers: [offer()], why_not: '' },
  { id: 2, name: 'Archive', offers: [], why_not: 'Archive does not answer.' },
]
const study = { id: 's1', role: 'owner' } as Study
const dataset = (changes: Partial<DataSet> = {}) =>
  ({
    id: 'd1',
    name: 'Visits',
    rows: 10,
    noun_one: 'visit',
    noun_many: 'visits',
    terms: '',
    note: '',
    lender: '',
    terms_asked: [],
    made: null,
    imported_at: '2031-05-01T10:00:00Z',
    imported_by: 'mira',
    file_name: 'visits.csv',
    size: 2048,
    ...changes,
  }) as unknown as DataSet

async function show(component: Component, props: Record<string, unknown>) {
  const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const shown = mount(component, {
    props,
    global: {
      plugins: [createVuetify(), createPinia(), router(), [VueQueryPlugin, { queryClient }]],
    },
  })
  await flushPromises()
  return shown
}

describe('lenders', () => {
  beforeEach(() => api.GET.mockResolvedValue(lenders))

  it('are told to answer or to be away, each with what it offers', async () => {
    const shown = await show(LenderList, { study, datasets: [] })
    const [office, archive] = shown.findAll('.lender')
    expect(office!.text()).toContain('answers now')
    expect(office!.text()).toContain('2031 · 1,046 rows · several rows per case')
    expect(office!.text()).toContain('under terms: For this study.')
    expect(archive!.text()).toContain('Archive does not answer.')
    expect(archive!.find('li').exists()).toBe(false)
  })

  it('are searched by the variables of what they offer', async () => {
    const shown = await show(LenderList, { study, datasets: [] })
    await shown.get('input').setValue('stomach')
    expect(shown.text()).toContain('holds Stomach illness')
    await shown.get('input').setValue('nobody asked this')
    expect(shown.text()).toContain('Nothing holds “nobody asked this”.')
  })

  it('lend a data set with one click, once', async () => {
    const shown = await show(LenderList, { study, datasets: [] })
    api.POST.mockResolvedValueOnce({ id: 'new' })
    await shown.get('button.act').trigger('click')
    await flushPromises()
    const [path, { params }] = api.POST.mock.calls[0]!
    expect(path).toMatch('/lenders/{lender_id}/{offer}')
    expect(params.path).toMatchObject({ lender_id: 1, offer: 'visits' })
    expect(shown.emitted('brought')![0]).toEqual([{ id: 'new' }])
    const again = await show(LenderList, {
      study,
      datasets: [dataset({ lender: 'Valley office', offer: 'visits' })],
    })
    expect(again.text()).toContain('is in this study')
    expect(again.find('button.act').exists()).toBe(false)
  })

  it('say why something cannot be had', async () => {
    const shown = await show(LenderList, { study, datasets: [] })
    api.POST.mockRejectedValueOnce(new Error('Valley office sends more than it said.'))
    await shown.get('button.act').trigger('click')
    await flushPromises()
    expect(shown.get('[role="alert"]').text()).toContain('sends more than it said')
  })
})

describe('terms', () => {
  const asked = [
    { id: 'd1', name: 'Visits', terms: 'For this study.' },
    { id: 'd0', name: 'Villages', terms: 'Name nobody.' },
  ]

  it('are read and accepted together, each with the data set it belongs to', async () => {
    const shown = await show(TermsAsked, { study, dataset: dataset({ terms_asked: asked }) })
    expect(shown.findAll('.text').map((each) => each.text())).toEqual([
      'For this study.',
      'Name nobody.',
    ])
    expect(shown.get('h3').text()).toBe('Villages')
    api.POST.mockResolvedValueOnce({})
    await shown.get('button').trigger('click')
    expect(api.POST.mock.calls[0]![1].body).toEqual({ texts: ['For this study.', 'Name nobody.'] })
  })

  it('stand in the list until then', async () => {
    const props = { study, mayChange: true, current: dataset({ id: 'other' }) }
    const shown = await show(DataSetList, {
      ...props,
      datasets: [
        dataset({ terms_asked: asked }),
        dataset({ id: 'other', lender: 'Valley office' }),
      ],
    })
    const [bound, lent] = shown.findAll('.source')
    expect(bound!.text()).toContain('terms to accept')
    expect(lent!.text()).toContain('lent by Valley office')
    expect(lent!.text()).not.toContain('Replace by a newer file')
  })

  it('are written by whoever may change the data, and kept with the note', async () => {
    const change = vi.fn()
    const shown = await show(TermsOfUse, { study, dataset: dataset(), mayChange: true, change })
    await shown.get('button.act').trigger('click')
    await shown.get('textarea').setValue('For this study.')
    await shown.get('input[aria-label="Note"]').setValue('preliminary')
    await shown.get('form').trigger('submit')
    expect(change).toHaveBeenCalledWith({ terms: 'For this study.', note: 'preliminary' })
  })

  it('of a lender are read, not written, and a newer version is looked for', async () => {
    const lent = dataset({ terms: 'For this study.', lender: 'Valley office', note: 'preliminary' })
    const people = [{ user: 'mira', text: 'For this study.', accepted_at: '2031-05-02T10:00:00Z' }]
    api.GET.mockImplementation((path: string) =>
      Promise.resolve(path.endsWith('/terms') ? people : { offer: null }),
    )
    const shown = await show(TermsOfUse, { study, dataset: lent, mayChange: true, change: vi.fn() })
    const [newer, terms] = shown.findAll('button.act')
    await terms!.trigger('click')
    await flushPromises()
    expect(shown.find('textarea').exists()).toBe(false)
    expect(shown.text()).toContain('Accepted by mira, 2 May 2031')
    await newer!.trigger('click')
    await flushPromises()
    expect(api.POST).not.toHaveBeenCalled()
    api.GET.mockResolvedValueOnce({ offer: offer({ version: '2' }) })
    api.POST.mockResolvedValueOnce({ id: 'newer' })
    await newer!.trigger('click')
    await flushPromises()
    expect(shown.emitted('newer')![0]).toEqual([{ id: 'newer' }])
  })
})
