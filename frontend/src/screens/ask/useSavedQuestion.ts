/**
 * The question being asked: changed at once, saved behind, with a way back.
 *
 * Saves go one after the other, each on the version the one before returned, so that quick
 * changes never overtake each other. Readers may change the question too; it is not saved then.
 */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, shallowRef, watch, type Ref } from 'vue'

import { client, Problem, unwrap } from '@/api/client'
import { keys } from '@/api/queries'
import type { Question, SavedQuestion, Study } from '@/api/types'
import { useNotices } from '@/notices'

export function useSavedQuestion(study: Ref<Study>, saved: Ref<SavedQuestion | undefined>) {
  const cache = useQueryClient()
  const notices = useNotices()
  const question = ref<Question>()
  const past = shallowRef<Question[]>([])
  const mayChange = computed(() => study.value.role !== 'reader')
  let version = 0
  let queue: Promise<unknown> = Promise.resolve()

  watch(
    () => saved.value?.id,
    () => {
      question.value = saved.value?.question
      version = saved.value?.version ?? 0
      past.value = []
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
    put(next)
  }

  function back() {
    const before = past.value.at(-1)
    if (!before) return
    past.value = past.value.slice(0, -1)
    put(before)
  }

  function put(next: Question) {
    question.value = next
    const id = saved.value?.id
    if (id && mayChange.value) queue = queue.then(() => save(id, next))
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
      notices.complain(error)
      if (error instanceof Problem && error.status === 409) {
        version = 0
        await cache.invalidateQueries({ queryKey: listKey })
      }
    }
  }

  return { question, change, back, canGoBack: computed(() => past.value.length > 0), mayChange }
}
