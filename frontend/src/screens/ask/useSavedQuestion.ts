/**
 * The question being asked: changed at once, saved behind, with a way back and forth.
 *
 * Saves go one after the other, each on the version the one before returned, so that quick
 * changes never overtake each other; a question that is not there yet is made by the first.
 * Readers may change the question too; it is not saved then.
 */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, shallowRef, watch, type Ref } from 'vue'

import { client, Problem, unwrap } from '@/api/client'
import { keys } from '@/api/queries'
import type { Question, SavedQuestion, Study } from '@/api/types'
import { useNotices } from '@/notices'

export function useSavedQuestion(
  study: Ref<Study>,
  saved: Ref<SavedQuestion | undefined>,
  make: (question: Question) => Promise<SavedQuestion | undefined>,
) {
  const cache = useQueryClient()
  const notices = useNotices()
  const question = ref<Question>()
  const past = shallowRef<Question[]>([])
  const future = shallowRef<Question[]>([])
  const mayChange = computed(() => study.value.role !== 'reader')
  let version = 0
  let queue: Promise<unknown> = Promise.resolve()

  watch(
    () => saved.value?.id,
    (id, before) => {
      version = saved.value?.version ?? 0
      // What was just made is in view already, perhaps changed since.
      if (id && before === undefined && past.value.length) return
      question.value = saved.value?.question
      past.value = []
      future.value = []
    },
    { immediate: true },
  )
  // The list is read again after other changes; its copy counts when nothing is being saved.
  watch(saved, (now) => {
    if (now && now.version > version) {
      version = now.version
      question.value = now.question
    }
  })

  function change(next: Question) {
    if (question.value) past.value = [...past.value, question.value]
    future.value = []
    put(next)
  }

  function back() {
    const before = past.value.at(-1)
    if (!before || !question.value) return
    past.value = past.value.slice(0, -1)
    future.value = [...future.value, question.value]
    put(before)
  }

  function forth() {
    const after = future.value.at(-1)
    if (!after || !question.value) return
    future.value = future.value.slice(0, -1)
    past.value = [...past.value, question.value]
    put(after)
  }

  function put(next: Question) {
    // What could be undone a moment ago is no longer the last change.
    notices.clear()
    question.value = next
    if (mayChange.value) queue = queue.then(() => keep(next))
  }

  async function keep(next: Question) {
    const id = saved.value?.id
    if (id) await save(id, next)
    else if (await make(next)) version = saved.value?.version ?? 1
  }

  async function save(id: string, next: Question) {
    const listKey = keys.questions(study.value.id)
    try {
      const kept = await unwrap(
        client.PATCH('/api/studies/{study_id}/questions/{question_id}', {
          params: { path: { study_id: study.value.id, question_id: id } },
          body: { version, question: next },
        }),
      )
      version = kept.version
      cache.setQueryData<SavedQuestion[]>(listKey, (list) =>
        list?.map((each) => (each.id === id ? kept : each)),
      )
    } catch (error) {
      if (error instanceof Problem && error.status === 409) {
        version = 0
        await cache.invalidateQueries({ queryKey: listKey })
        // Theirs is shown now; which of the two stays is for people to say.
        notices.offer(
          'Somebody else changed this question meanwhile: theirs is shown.',
          'Take mine instead',
          () => change(next),
        )
      } else notices.complain(error)
    }
  }

  return { question, change, back, forth, mayChange }
}
