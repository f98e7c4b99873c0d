/** Who is here, what changed elsewhere, and what may be done about people. */
import { flushPromises, mount } from '@vue/test-utils'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { defineComponent, ref } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'

import { edited, usePulse } from '@/api/people'
import InviteForm from '@/screens/people/InviteForm.vue'
import People from '@/screens/people/People.vue'
import StudyLog from '@/screens/people/StudyLog.vue'
import WhoIsHere from '@/screens/people/WhoIsHere.vue'
import { api } from './api'

const MARKS = { questions: 'q1', datasets: 'd1', reports: 'r1', people: 'p1' }
const MAY = { owner: 'may do everything', analyst: 'may change data', reader: 'changes nothing' }
const member = (id: number, user: string, role: string, is_you = false) => ({
  id,
  user,
  role,
  is_you,
})
const study = { id: 's1', name: 'Ostra Basin' }
const router = createRouter({
  history: createMemoryHistory(),
  routes: [{ path: '/', name: 'studies', component: { template: '<p />' } }],
})
let cache: QueryClient
const global = () => ({
  plugins: [[VueQueryPlugin, { queryClient: cache }], createPinia(), router],
  stubs: { 'v-btn': { template: '<button><slot /></button>' } },
})

beforeEach(() => {
  cache = new QueryClient({ defaultOptions: { queries: { retry: false } } })
})
afterEach(() => vi.useRealTimers())

it('tells the innermost thing that is being changed', () => {
  document.body.innerHTML =
    '<div data-editing="the report"><p data-editing="Stomach illness"><input id="a"></p><input id="b"></div><input id="c">'
  const of = (id: string) => edited(document.getElementById(id))
  expect([of('a'), of('b'), of('c'), edited(null)]).toEqual([
    'Stomach illness',
    'the report',
    '',
    '',
  ])
})

function pulsing() {
  const id = ref('s1')
  let found!: ReturnType<typeof usePulse>
  const Frame = defineComponent({
    setup() {
      found = usePulse(id, () => 'codebook')
      return () => null
    },
  })
  const mounted = mount(Frame, { global: global() } as never)
  return { mounted, found, id }
}

it('reads anew what somebody else changed, and nothing else', async () => {
  vi.useFakeTimers()
  api.POST.mockResolvedValue({ ...MARKS, here: [{ who: 'Ida', screen: 'ask', editing: '' }] })
  const { mounted, found } = pulsing()
  const read = vi.spyOn(cache, 'invalidateQueries')
  await vi.advanceTimersByTimeAsync(100)
  expect(found.here.value.map(({ who }) => who)).toEqual(['Ida'])
  await vi.advanceTimersByTimeAsync(2000)
  expect(read).not.toHaveBeenCalled()
  api.POST.mockResolvedValue({ ...MARKS, questions: 'q2', here: [] })
  await vi.advanceTimersByTimeAsync(2000)
  const keys = read.mock.calls.map(([filters]) => (filters as { queryKey: unknown[] }).queryKey)
  const names = keys.map((key) => key.slice(2))
  expect(names).toEqual([['questions'], ['people']])
  const sent = api.POST.mock.calls[0]![1].body
  expect(sent.screen).toBe('codebook')
  mounted.unmount()
  const before = api.POST.mock.calls.length
  await vi.advanceTimersByTimeAsync(10_000)
  expect(api.POST.mock.calls.length).toBe(before)
})

it('reads anew what was changed while one was elsewhere', async () => {
  vi.useFakeTimers()
  api.POST.mockResolvedValue({ ...MARKS, here: [] })
  const first = pulsing()
  await vi.advanceTimersByTimeAsync(100)
  first.mounted.unmount()
  api.POST.mockResolvedValue({ ...MARKS, datasets: 'd2', here: [] })
  const read = vi.spyOn(cache, 'invalidateQueries')
  const again = pulsing()
  await vi.advanceTimersByTimeAsync(100)
  expect(
    read.mock.calls.map(([filters]) => (filters as { queryKey: unknown[] }).queryKey[2]),
  ).toContain('datasets')
  again.mounted.unmount()
})

it('a server that is away leaves nobody here, and is asked again', async () => {
  vi.useFakeTimers()
  api.POST.mockRejectedValue(new Error('away'))
  const { mounted, found } = pulsing()
  await vi.advanceTimersByTimeAsync(2100)
  expect(found.here.value).toEqual([])
  expect(api.POST.mock.calls.length).toBe(2)
  mounted.unmount()
})

it('says who is here and what they are at, four by their letters', () => {
  const here = ['Ida', 'Jon', 'Kim', 'Lou', 'Max'].map((who, i) => ({
    who,
    screen: 'codebook',
    editing: i ? '' : 'Stomach illness',
  }))
  const found = mount(WhoIsHere, { props: { here, to: { path: '/' } }, global: global() } as never)
  expect(found.findAll('.who')).toHaveLength(4)
  expect(found.find('.who').attributes('title')).toBe(
    'Ida is here, in Codebook, changing Stomach illness',
  )
  expect(found.findAll('.who')[1]!.attributes('title')).toBe('Jon is here, in Codebook')
  expect(found.text()).toContain('+1')
})

const shown = async (members: unknown[], invitations: unknown[] = []) => {
  api.GET.mockImplementation((path: string) =>
    Promise.resolve(path.endsWith('/log') ? [] : { members, invitations, may: MAY }),
  )
  const found = mount(People, { props: { study }, global: global() } as never)
  await flushPromises()
  return found
}

it('an owner changes roles, with undo, and takes people out', async () => {
  api.PATCH.mockResolvedValue({})
  api.DELETE.mockResolvedValue(undefined)
  const found = await shown([member(1, 'demo', 'owner', true), member(2, 'Ida', 'reader')])
  await found.find('[aria-label="Role of Ida"]').setValue('analyst')
  await flushPromises()
  const [, sent] = api.PATCH.mock.calls[0]!
  expect(sent.params.path).toEqual({ study_id: 's1', user_id: 2 })
  expect(sent.body).toEqual({ role: 'analyst' })
  await found.find('[aria-label="Take Ida out"]').trigger('click')
  await flushPromises()
  expect(api.DELETE.mock.calls[0]![1].params.path.user_id).toBe(2)
})

it('others see who is in and what each may do, and may leave', async () => {
  const found = await shown([member(1, 'demo', 'owner'), member(2, 'Ida', 'reader', true)])
  expect(found.find('[aria-label^="Role of"]').exists()).toBe(false)
  expect(found.findAll('button').map((each) => each.text())).toEqual(['Leave'])
  expect(found.text()).toContain('changes nothing')
  expect(found.text()).toContain('Owners invite others')
  expect(api.GET.mock.calls.some(([path]) => path.endsWith('/log'))).toBe(false)
})

it('a link is made, shown once, and taken back', async () => {
  api.POST.mockResolvedValue({ secret: 'abc' })
  api.DELETE.mockResolvedValue(undefined)
  const open = [{ id: 'i1', role: 'owner', made_by: 'demo', ends_at: '2026-12-06T10:00:00Z' }]
  const found = mount(InviteForm, { props: { study: 's1', open }, global: global() } as never)
  await found.find('select').setValue('owner')
  await found.find('form').trigger('submit')
  await flushPromises()
  expect(api.POST.mock.calls[0]![1].body).toEqual({ role: 'owner', days: 7 })
  expect((found.find('.secret input').element as HTMLInputElement).value).toMatch(/\/join\/abc$/)
  expect(found.text()).toContain('A link for an owner, by demo, until 6 December')
  await found.find('.open button').trigger('click')
  await flushPromises()
  expect(found.find('.secret').exists()).toBe(false)
  expect(found.emitted('changed')).toHaveLength(2)
})

it('the log is by day, newest first', () => {
  const at = (day: string) => `2026-11-${day}T10:05:00Z`
  const happenings = [
    { at: at('29'), who: 'Ida', words: 'kept the question “How many?”' },
    { at: at('29'), who: 'demo', words: 'brought in “survey”' },
    { at: at('27'), who: 'demo', words: 'renamed the study' },
  ]
  const found = mount(StudyLog, { props: { happenings } })
  expect(found.findAll('h3').map((each) => each.text())).toEqual([
    '29 November 2026',
    '27 November 2026',
  ])
  expect(found.findAll('li')[0]!.text()).toContain('Ida kept the question “How many?”')
})
