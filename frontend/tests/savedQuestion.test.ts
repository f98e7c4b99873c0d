import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { createPinia } from 'pinia'
import { beforeEach, expect, it, vi } from 'vitest'
import { defineComponent, h, nextTick, ref } from 'vue'

import { Problem } from '@/api/client'
import type { Question, SavedQuestion, Study } from '@/api/types'
import { useNotices } from '@/notices'
import { useSavedQuestion } from '@/screens/ask/useSavedQuestion'
import { emptyQuestion } from '@/screens/ask/words'
import { api } from './api'

type Call = { body: { version: number; question: { confidence: number } } }

const saved: SavedQuestion = {
  id: 'q1',
  dataset: 'd1',
  parent: null,
  title: '',
  note: '',
  standing: 'draft',
  question: emptyQuestion({ confidence: 0.95 }),
  version: 7,
  headline: null,
  is_current: true,
}

/** The composable in a component of its own, as the Ask screen uses it. */
function use(role = 'owner', before: SavedQuestion | null = saved) {
  let made!: ReturnType<typeof useSavedQuestion>
  let notices!: ReturnType<typeof useNotices>
  const study = ref({ id: 's1', role } as Study)
  const current = ref(before ?? undefined)
  /** As the server keeps a question that was not there yet. */
  const make = vi.fn(async (question: Question) => {
    await nextTick()
    current.value = { ...saved, id: 'q2', version: 1, question }
    return current.value
  })
  const Host = defineComponent({
    setup() {
      made = useSavedQuestion(study, current, make)
      notices = useNotices()
      return () => h('div')
    },
  })
  const plugins = [createPinia(), [VueQueryPlugin, { queryClient: new QueryClient() }]]
  mount(Host, { global: { plugins: plugins as never } })
  return { made, notices, make, current }
}

const asked = (confidence: number) => emptyQuestion({ confidence })
const calls = () => api.PATCH.mock.calls.map(([, options]) => (options as Call).body)

beforeEach(() => {
  api.PATCH.mockImplementation(async (_path: string, { body }: Call) => ({
    ...saved,
    question: body.question,
    version: body.version + 1,
  }))
})

it('shows a change at once and saves quick changes one after the other', async () => {
  const { made } = use()
  made.change(asked(0.9))
  made.change(asked(0.99))
  expect(made.question.value?.confidence).toBe(0.99)
  await flushPromises()
  expect(calls().map((body) => [body.version, body.question.confidence])).toEqual([
    [7, 0.9],
    [8, 0.99],
  ])
})

/** The first change is on its way until `arrive` is called. */
async function underWay(made: ReturnType<typeof useSavedQuestion>) {
  let arrive!: (kept: SavedQuestion) => void
  api.PATCH.mockImplementationOnce(() => new Promise((resolve) => (arrive = resolve)))
  made.change(asked(0.9))
  await flushPromises()
  return () => arrive({ ...saved, version: 8, question: asked(0.9) })
}

it('a list that is read between two quick changes does not take the second back', async () => {
  const { made, current } = use()
  const arrive = await underWay(made)
  made.change(asked(0.99))
  // The server has kept the first, and somebody reads the list before that is heard here.
  current.value = { ...saved, version: 8, question: asked(0.9) }
  await nextTick()
  expect(made.question.value?.confidence).toBe(0.99)
  arrive()
  await flushPromises()
  expect(made.question.value?.confidence).toBe(0.99)
  expect(calls().map((body) => [body.version, body.question.confidence])).toEqual([
    [7, 0.9],
    [8, 0.99],
  ])
  // What others make of it afterwards is shown.
  current.value = { ...saved, version: 12, question: asked(0.5) }
  await nextTick()
  expect(made.question.value?.confidence).toBe(0.5)
})

it('a change still waiting is saved to the question it was made of, whatever is opened', async () => {
  const { made, current } = use()
  const arrive = await underWay(made)
  made.change(asked(0.99))
  current.value = { ...saved, id: 'q3', version: 3, question: asked(0.5) }
  await nextTick()
  arrive()
  await flushPromises()
  expect(made.question.value?.confidence).toBe(0.5)
  const sent = api.PATCH.mock.calls.map(([, { params, body }]) => [
    params.path.question_id,
    body.version,
    body.question.confidence,
  ])
  expect(sent).toEqual([
    ['q1', 7, 0.9],
    ['q1', 8, 0.99],
  ])
})

it('a question opened again while its change is on the way shows the change once it is kept', async () => {
  const { made, current } = use()
  const arrive = await underWay(made)
  current.value = { ...saved, id: 'q3', version: 3, question: asked(0.5) }
  await nextTick()
  current.value = saved
  await nextTick()
  expect(made.question.value?.confidence).toBe(0.95)
  // Kept, and so in the list.
  current.value = { ...saved, version: 8, question: asked(0.9) }
  arrive()
  await flushPromises()
  expect(made.question.value?.confidence).toBe(0.9)
})

it('takes back the last change and makes it again, and saves that too', async () => {
  const { made } = use()
  made.change(asked(0.9))
  made.change(asked(0.99))
  made.back()
  expect(made.question.value?.confidence).toBe(0.9)
  made.forth()
  expect(made.question.value?.confidence).toBe(0.99)
  made.back()
  made.back()
  await flushPromises()
  expect(made.question.value?.confidence).toBe(0.95)
  expect(calls().map(({ question }) => question.confidence)).toEqual([
    0.9, 0.99, 0.9, 0.99, 0.9, 0.95,
  ])
})

it('a change after taking back leaves nothing to make again', () => {
  const { made } = use()
  made.change(asked(0.9))
  made.back()
  made.change(asked(0.8))
  made.forth()
  expect(made.question.value?.confidence).toBe(0.8)
})

it('a question that is not there yet is made by its first change, and saved by the next', async () => {
  const { made, make } = use('owner', null)
  made.change(asked(0.9))
  made.change(asked(0.8))
  await flushPromises()
  expect(make.mock.calls.map(([question]) => question.confidence)).toEqual([0.9])
  expect(calls().map(({ version, question }) => [version, question.confidence])).toEqual([[1, 0.8]])
  expect(made.question.value?.confidence).toBe(0.8)
})

it('shows another question when it is opened, with nothing to take back', async () => {
  const { made, current } = use()
  made.change(asked(0.9))
  current.value = { ...saved, id: 'q3', question: asked(0.5) }
  await nextTick()
  made.back()
  expect(made.question.value?.confidence).toBe(0.5)
})

it('takes the offer to undo an earlier change away', () => {
  const { made, notices } = use()
  notices.say('The event was turned round.', made.back)
  made.change(asked(0.9))
  expect(notices.current).toBeUndefined()
})

it('lets a reader ask without saving', async () => {
  const { made } = use('reader')
  made.change(asked(0.9))
  await flushPromises()
  expect(made.question.value?.confidence).toBe(0.9)
  expect(api.PATCH).not.toHaveBeenCalled()
})

it('shows what somebody else made of it who was quicker, and takes mine where I say so', async () => {
  const details = {
    type: '',
    title: '',
    status: 409,
    detail: 'Changed since.',
    where: {},
    remedies: [],
  }
  api.PATCH.mockRejectedValueOnce(new Problem(details))
  const { made, notices } = use()
  made.change(asked(0.9))
  await flushPromises()
  expect(notices.current?.text).toContain('theirs is shown')
  expect(notices.current?.label).toBe('Take mine instead')
  api.PATCH.mockClear()
  api.PATCH.mockResolvedValue({ ...saved, version: 9 })
  await notices.current!.undo!()
  await flushPromises()
  expect(calls()[0]!.question.confidence).toBe(0.9)
})
