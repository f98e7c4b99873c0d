/** Long answers: named, looked at while they last, ended when nobody waits any more. */
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { defineComponent, h, nextTick, ref } from 'vue'

import { useAnswer } from '@/api/answers'
import { useRefresh } from '@/api/queries'
import type { Question } from '@/api/types'
import { useLongWork } from '@/screens/ask/useLongWork'
import { emptyQuestion } from '@/screens/ask/words'
import { api } from './api'

type Sent = {
  headers: { 'Hobrix-Work': string }
  body: { question: Question }
  signal: AbortSignal
}
type Named = { params: { path: { token: string } } }

let answerNow: (given: unknown) => void
const question = ref<Question>(emptyQuestion())

function use() {
  let answer!: ReturnType<typeof useAnswer>
  let long!: ReturnType<typeof useLongWork>
  let refresh!: ReturnType<typeof useRefresh>
  const Host = defineComponent({
    setup() {
      answer = useAnswer({ study: 's1', dataset: 'd1', version: 1, question }, true)
      long = useLongWork(() => 's1', answer)
      refresh = useRefresh()
      return () => h('div')
    },
  })
  const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const plugins = [[VueQueryPlugin, { queryClient }]]
  const host = mount(Host, { global: { plugins: plugins as never } })
  return { answer, long, refresh, host, cache: queryClient }
}

beforeEach(() => {
  vi.useFakeTimers()
  question.value = emptyQuestion()
  api.POST.mockImplementation(
    (_path: string, { signal }: Sent) =>
      new Promise((resolve, reject) => {
        answerNow = resolve
        signal.addEventListener('abort', () => reject(new Error('aborted')))
      }),
  )
  api.GET.mockResolvedValue({ done: 0.437 })
  api.DELETE.mockResolvedValue(undefined)
})
afterEach(() => vi.useRealTimers())

const sent = (i: number) => api.POST.mock.calls[i]![1] as Sent

it('an answer that comes at once is not asked about', async () => {
  const { long } = use()
  await vi.advanceTimersByTimeAsync(900)
  answerNow({ answer: 1 })
  await flushPromises()
  await vi.advanceTimersByTimeAsync(2000)
  expect(long.isSlow.value).toBe(false)
  expect(api.GET).not.toHaveBeenCalled()
})

it('after a second it says how much is done, under the name the work was given', async () => {
  const { long } = use()
  expect(long.words.value).toBe('')
  await vi.advanceTimersByTimeAsync(1100)
  await flushPromises()
  expect(long.isSlow.value).toBe(true)
  expect(long.words.value).toBe('Working it out… 43% done.')
  const asked = api.GET.mock.calls[0]![1] as Named
  expect(asked.params.path.token).toBe(sent(0).headers['Hobrix-Work'])
  api.GET.mockResolvedValue({ done: 0.9 })
  await vi.advanceTimersByTimeAsync(600)
  expect(long.words.value).toBe('Working it out… 90% done.')
  api.GET.mockResolvedValue({ done: null, place: 3 })
  await vi.advanceTimersByTimeAsync(600)
  expect(long.words.value).toBe('Waiting for its turn: number 3 in the queue.')
  answerNow({ answer: 1 })
  await flushPromises()
  expect(long.isSlow.value).toBe(false)
})

it('stopping ends the work on the server', async () => {
  const { cache } = use()
  await vi.advanceTimersByTimeAsync(1100)
  await cache.cancelQueries({ queryKey: ['study', 's1', 'answer'] })
  expect(sent(0).signal.aborted).toBe(true)
  const ended = api.DELETE.mock.calls.map(([, options]) => (options as Named).params.path.token)
  expect(ended).toEqual([sent(0).headers['Hobrix-Work']])
})

it('another question ends the work on the one before', async () => {
  use()
  await nextTick()
  question.value = { ...emptyQuestion(), confidence: 0.9 }
  await vi.advanceTimersByTimeAsync(10)
  expect(sent(0).signal.aborted).toBe(true)
  expect(api.DELETE).toHaveBeenCalledTimes(1)
  expect(sent(1).headers['Hobrix-Work']).not.toBe(sent(0).headers['Hobrix-Work'])
  expect(sent(1).body.question.confidence).toBe(0.9)
})

it('what is asked for the first time while something changes is asked for again', async () => {
  const { refresh } = use()
  await nextTick()
  expect(api.POST).toHaveBeenCalledTimes(1)
  void refresh('study', 's1')
  await vi.advanceTimersByTimeAsync(10)
  expect(api.POST).toHaveBeenCalledTimes(2)
})
