/** Places whose tables are linked, and linked data sets in the list. */
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { createPinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import type { Component } from 'vue'
import { createVuetify } from 'vuetify'

import type { DataSet, Schemas, Study } from '@/api/types'
import JobList from '@/screens/data/JobList.vue'
import DataSetList from '@/screens/data/DataSetList.vue'
import PlaceList from '@/screens/data/PlaceList.vue'
import { api } from './api'
import { router } from './brought'

const study = { id: 's1', role: 'owner' } as Study
const places: Schemas['PlaceOut'][] = [
  { name: 'Registers', tables: ['deliveries', 'deaths'], why_not: '' },
  { name: 'Archive', tables: [], why_not: 'The place “Archive” cannot be reached now.' },
]
const linked = {
  id: 'd1',
  name: 'deliveries',
  place: 'Registers',
  table: 'deliveries',
  rows: 4_000_000,
  noun_one: 'row',
  noun_many: 'rows',
  terms_asked: [],
  made: null,
  lender: '',
  imported_at: '2031-05-01T10:00:00Z',
  imported_by: 'mira',
  file_name: '',
  size: 0,
} as unknown as DataSet

async function show(component: Component, props: Record<string, unknown>) {
  const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const plugins = [createVuetify(), createPinia(), router(), [VueQueryPlugin, { queryClient }]]
  const shown = mount(component, { props, global: { plugins: plugins as never } })
  await flushPromises()
  return shown
}

beforeEach(() => {
  api.GET.mockResolvedValue(places)
  api.POST.mockResolvedValue({})
})

describe('places', () => {
  it('show their tables, or why they cannot be seen now', async () => {
    const shown = await show(PlaceList, { study, datasets: [] })
    const [registers, archive] = shown.findAll('.place')
    expect(registers!.findAll('li')).toHaveLength(2)
    expect(archive!.text()).toContain('cannot be reached now')
    expect(archive!.find('button').exists()).toBe(false)
  })

  it('a table is linked with one click, once', async () => {
    const shown = await show(PlaceList, { study, datasets: [linked] })
    expect(shown.findAll('li')[0]!.text()).toContain('is in this study')
    await shown.get('button[aria-label="Link it: deaths"]').trigger('click')
    await flushPromises()
    const [path, { body }] = api.POST.mock.calls[0]!
    expect(path).toMatch('/places')
    expect(body).toEqual({ place: 'Registers', table: 'deaths' })
    expect(shown.emitted('linking')).toHaveLength(1)
  })

  it('say why a table cannot be linked, and to readers offer nothing', async () => {
    api.POST.mockRejectedValueOnce(new Error('There is no table “deaths” any more.'))
    const shown = await show(PlaceList, { study, datasets: [] })
    await shown.get('button[aria-label="Link it: deaths"]').trigger('click')
    await flushPromises()
    expect(shown.get('[role="alert"]').text()).toContain('There is no table')
    expect(shown.emitted('linking')).toBeUndefined()
    const reader = await show(PlaceList, { study: { ...study, role: 'reader' }, datasets: [] })
    expect(reader.find('button').exists()).toBe(false)
  })

  it('without any, it is said who can name one', async () => {
    api.GET.mockResolvedValue([])
    const shown = await show(PlaceList, { study, datasets: [] })
    expect(shown.text()).toContain('hobrix place add')
  })
})

describe('work that is done', () => {
  const done = async (kind: string) => {
    const job = {
      id: 'j1',
      kind,
      file_name: 'deliveries',
      state: 'running',
      progress: 0.5,
      doing: '',
    }
    let isListed = true
    api.GET.mockImplementation((path: string) =>
      Promise.resolve(
        path.endsWith('{job_id}') ? { ...job, state: 'done' } : isListed ? [job] : [],
      ),
    )
    const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false } } })
    const plugins = [createVuetify(), createPinia(), router(), [VueQueryPlugin, { queryClient }]]
    const shown = mount(JobList, {
      props: { study, mayChange: true },
      global: { plugins: plugins as never },
    })
    await flushPromises()
    isListed = false
    await queryClient.invalidateQueries()
    await flushPromises()
    return shown
  }

  it('leads to the data set that was linked', async () => {
    expect((await done('link')).emitted('brought')).toEqual([[{ id: 'j1' }]])
  })
  it('stays where one is when something was only read again', async () => {
    expect((await done('read_again')).emitted('brought')).toBeUndefined()
  })
})

describe('a linked data set in the list', () => {
  it('stays where it is, and is read again rather than replaced', async () => {
    const props = { study, datasets: [linked], current: linked, mayChange: true }
    const shown = await show(DataSetList, props)
    expect(shown.text()).toContain('stays in Registers')
    expect(shown.text()).not.toContain('Replace by a newer file')
    const again = shown.findAll('button').find((each) => each.text() === 'Read it again')!
    await again.trigger('click')
    await flushPromises()
    expect(api.POST.mock.calls[0]![0]).toMatch('/read-again')
  })
})
