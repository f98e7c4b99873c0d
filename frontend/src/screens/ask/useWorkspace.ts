/** The questions and data sets of a study: which is in view, and making new ones. */
import { computed, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, unwrap } from '@/api/client'
import { keys, useCodebook, useDatasets, useQuestions, useRefresh } from '@/api/queries'
import type { DataSet, Question, SavedQuestion, Study } from '@/api/types'
import { useInView, useKeptInView } from '@/inView'
import { useNotices } from '@/notices'
import { emptyQuestion } from './words'

export function useWorkspace(study: () => Study) {
  const route = useRoute()
  const router = useRouter()
  const notices = useNotices()
  const refresh = useRefresh()
  const inView = useInView()

  const datasets = useDatasets(() => study().id)
  const questions = useQuestions(() => study().id)
  const ready = computed(() => datasets.data.value?.filter(({ is_draft }) => !is_draft) ?? [])
  const drafts = computed(() => datasets.data.value?.filter(({ is_draft }) => is_draft) ?? [])
  /** The data set somebody came here to ask about. */
  const wanted = computed(() => ready.value.find(({ id }) => id === route.query.about))
  const saved = computed<SavedQuestion | undefined>(() => {
    const all = questions.data.value ?? []
    const here = inView.byStudy[study().id]
    return (
      all.find(({ id }) => id === route.params.question) ??
      all.find(({ dataset }) => dataset === here) ??
      all[0]
    )
  })
  const dataset = computed(
    () =>
      ready.value.find(({ id }) => id === saved.value?.dataset) ?? wanted.value ?? ready.value[0],
  )
  const codebook = useCodebook(
    () => study().id,
    () => dataset.value?.id,
  )
  useKeptInView(
    () => study().id,
    () => dataset.value?.id,
  )

  /** Whether a new question is to be asked about a data set, also while it is not known yet which there are. */
  const comesToAsk = computed(() => !!route.query.about && (!!wanted.value || !datasets.data.value))
  watch(
    () => [saved.value?.id, codebook.data.value, comesToAsk.value] as const,
    ([id, , isToCome]) => {
      if (id && !isToCome && route.name === 'ask' && route.params.question !== id)
        void router.replace({ name: 'ask', params: { question: id } })
    },
  )

  async function create(asked: Question, parent?: SavedQuestion, about = dataset.value) {
    if (!about) return undefined
    try {
      const made = await unwrap(
        client.POST('/api/studies/{study_id}/questions', {
          params: { path: { study_id: study().id } },
          body: {
            dataset: about.id,
            question: asked,
            parent: parent ? (parent.parent ?? parent.id) : null,
            after: parent?.id ?? null,
            title: '',
          },
        }),
      )
      await refresh(...keys.questions(study().id))
      await router.push({ name: 'ask', params: { question: made.id }, query: {} })
      return made
    } catch (error) {
      notices.complain(error)
      return undefined
    }
  }

  /** An empty question about a data set, counted as is recorded for it. */
  const emptyAbout = (about: DataSet | undefined, changes: Partial<Question> = {}) =>
    emptyQuestion({ ...(about ? { counted_by: about.counted_by } : {}), ...changes })

  /** Take back a question that was just made; the one before it is in view again. */
  async function unmake(made: SavedQuestion, before: string | undefined) {
    await unwrap(
      client.DELETE('/api/studies/{study_id}/questions/{question_id}', {
        params: { path: { study_id: study().id, question_id: made.id } },
      }),
    )
    await refresh(...keys.questions(study().id))
    if (before) await router.push({ name: 'ask', params: { question: before } })
  }

  return {
    codebook,
    create,
    dataset,
    datasets,
    drafts,
    emptyAbout,
    questions,
    ready,
    saved,
    unmake,
    wanted,
  }
}
