import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { createPinia } from 'pinia'
import { beforeEach, expect, it, vi } from 'vitest'
import { defineComponent, h, ref } from 'vue'

import { Problem } from '@/api/client'
import type { SavedQuestion, Study } from '@/api/types'
import { useNotices } from '@/notices'
import { useSavedQuestion } from '@/screens/ask/useSavedQuestion'
import { emptyQuestion } from '@/screens/ask/words'

type Call = { body: { version: number; question: { confidence: number } } }

const patch = vi.hoisted(() => vi.fn())
vi.mock('@/api/client', async (original) => ({
  ...(await original<object>()),
  client: { PATCH: patch },
  unwrap: (call: Promise<unknown>) => call,
}))

const saved: SavedQuestion = {
  id: 'q1',
  dataset: 'd1',
  parent: null,
  title: '',
  note: '',
  question: emptyQuestion(),
  version: 7,
  headline: null,
}

/** The composable in a component of its own, as the Ask screen uses it. */
function use(role = 'owner') {
  let made!: ReturnType<typeof useSavedQuestion>
  let notices!: ReturnType<typeof useNotices>
  const study = ref({ id: 's1', role } as Study)
  const Host = defineComponent({
    setup() {
      made = useSavedQuestion(study, ref<SavedQuestion | undefined>(saved))
      notices = useNotices()
      return () => h('div')
    },
  })
  const plugins = [createPinia(), [VueQueryPlugin, { queryClient: new QueryClient() }]]
  mount(Host, { global: { plugins: plugins as never } })
  return { made, notices }
}

const asked = (confidence: number) => ({ ...emptyQuestion(), confidence })
const calls = () => patch.mock.calls.map(([, options]) => (options as Call).body)

beforeEach(() => {
  patch.mockReset()
  patch.mockImplementation(async (_path: string, { body }: Call) => ({
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

it('takes back the last change, and saves that too', async () => {
  const { made } = use()
  made.change(asked(0.9))
  made.back()
  await flushPromises()
  expect(made.question.value?.confidence).toBe(0.95)
  expect(made.canGoBack.value).toBe(false)
  expect(calls().at(-1)?.question.confidence).toBe(0.95)
})

it('lets a reader ask without saving', async () => {
  const { made } = use('reader')
  made.change(asked(0.9))
  await flushPromises()
  expect(made.question.value?.confidence).toBe(0.9)
  expect(patch).not.toHaveBeenCalled()
})

it('says so when somebody else was quicker', async () => {
  const details = {
    type: '',
    title: '',
    status: 409,
    detail: 'Changed since.',
    where: {},
    remedies: [],
  }
  patch.mockRejectedValue(new Problem(details))
  const { made, notices } = use()
  made.change(asked(0.9))
  await flushPromises()
  expect(notices.current).toEqual({ text: 'Changed since.', isProblem: true })
})
