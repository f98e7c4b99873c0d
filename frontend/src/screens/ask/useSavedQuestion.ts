/**
 * The question being asked: changed at once, saved behind, with a way back and forth.
 *
 * Saves go one after the other, each on the version the one before returned, so that quick
 * changes never overtake each other; a question that is not there yet is made by the first. Each goes
 * to the question it was made of, whichever is in view by then.
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
  /** As the server has them, by question. */
  const versions = new Map<string, number>()
  /** The version of what is in view, and how many questions have been opened before it. */
  let shown = 0
  let opened = 0
  /** Changes on their way: the list may have been read before them. */
  let saving = 0
  let queue: Promise<unknown> = Promise.resolve()

  watch(
    () => saved.value?.id,
    (id, before) => {
      shown = saved.value?.version ?? 0
      opened += 1
      if (id) versions.set(id, Math.max(versions.get(id) ?? 0, shown))
      // What was just made is in view already, perhaps changed since.
      if (id && before === undefined && past.value.length) return
      question.value = saved.value?.question
      past.value = []
      future.value = []
    },
    { immediate: true },
  )
  // The list is read again after other changes; its copy counts when nothing is being saved.
  watch(saved, takeNewer)

  function takeNewer() {
    const now = saved.value
    if (!now || saving || now.version <= shown) return
    versions.set(now.id, now.version)
    shown = now.version
    question.value = now.question
  }

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
    if (!mayChange.value) return
    const id = saved.value?.id
    const at = opened
    saving += 1
    queue = queue
      .then(() => keep(id, next, at))
      .finally(() => {
        saving -= 1
        takeNewer()
      })
  }

  async function keep(of: string | undefined, next: Question, at: number) {
    const id = of ?? saved.value?.id
    if (id) return save(id, next, at)
    const made = await make(next)
    if (made) versions.set(made.id, made.version)
  }

  async function save(id: string, next: Question, at: number) {
    const listKey = keys.questions(study.value.id)
    try {
      const kept = await unwrap(
        client.PATCH('/api/studies/{study_id}/questions/{question_id}', {
          params: { path: { study_id: study.value.id, question_id: id } },
          body: { version: versions.get(id) ?? 0, question: next },
        }),
      )
      versions.set(id, kept.version)
      if (at === opened) shown = kept.version
      cache.setQueryData<SavedQuestion[]>(listKey, (list) =>
        list?.map((each) => (each.id === id ? kept : each)),
      )
    } catch (error) {
      if (error instanceof Problem && error.status === 409) {
        // Whatever is read now counts, once nothing is on its way.
        versions.set(id, 0)
        if (at === opened) shown = 0
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
