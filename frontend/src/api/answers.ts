/** Answers and their panels, as the server works them out; what nobody waits for is stopped. */
import { useQueries, useQuery } from '@tanstack/vue-query'
import { computed, ref, toValue, type MaybeRefOrGetter } from 'vue'

import { client, unwrap } from './client'
import { newWork, WORK } from './patience'
import type { Maybe } from './queries'
import type { AnswerWithFigures, PanelWithFigures, Question } from './types'

/** A question about a version of a data set. */
export interface Asked {
  study: Maybe<string>
  dataset: Maybe<string>
  version: Maybe<number>
  question: Maybe<Question>
}

const keyOf = ({ study, dataset, version, question }: Asked, ...what: string[]) => [
  'study',
  toValue(study),
  ...what,
  toValue(dataset),
  toValue(version),
  toValue(question),
]

/** Work under a name of its own, which is ended on the server when nobody waits for it any more. */
function stoppable(asked: Asked, token: { value: string }, signal: AbortSignal) {
  const name = (token.value = newWork())
  const study_id = toValue(asked.study)!
  signal.addEventListener('abort', () => {
    void client.DELETE('/api/studies/{study_id}/answer/under-way/{token}', {
      params: { path: { study_id, token: name } },
    })
  })
  return {
    headers: { [WORK]: name },
    body: { dataset: toValue(asked.dataset)!, question: toValue(asked.question)! },
    signal,
  }
}

/** The answer to a question as it stands; the last answer stays in view while the next is made. */
export function useAnswer(asked: Asked, canBeAsked: MaybeRefOrGetter<boolean>) {
  const token = ref('')
  const found = useQuery({
    queryKey: computed(() => keyOf(asked, 'answer')),
    queryFn: async ({ signal }) => {
      const given = await unwrap(
        client.POST('/api/studies/{study_id}/answer', {
          params: { path: { study_id: toValue(asked.study)! } },
          ...stoppable(asked, token, signal),
        }),
      )
      return given as AnswerWithFigures
    },
    enabled: () => !!toValue(asked.dataset) && toValue(canBeAsked),
    staleTime: Infinity,
    placeholderData: (previous) => previous,
  })
  return { ...found, token }
}

function panelQuery(asked: Asked, name: string, token: { value: string }) {
  return {
    queryKey: keyOf(asked, 'panel', name),
    queryFn: async ({ signal }: { signal: AbortSignal }) => {
      const given = await unwrap(
        client.POST('/api/studies/{study_id}/answer/panels/{panel}', {
          params: { path: { study_id: toValue(asked.study)!, panel: name } },
          ...stoppable(asked, token, signal),
        }),
      )
      return given as PanelWithFigures
    },
    staleTime: Infinity,
  }
}

/** What a panel shows, asked for once it `isWanted`; the last one stays while the next is made. */
export function usePanel(asked: Asked, name: string, isWanted: MaybeRefOrGetter<boolean>) {
  const token = ref('')
  const found = useQuery(
    computed(() => ({
      ...panelQuery(asked, name, token),
      enabled: toValue(isWanted),
      placeholderData: (previous: PanelWithFigures | undefined) => previous,
    })),
  )
  return { ...found, token }
}

/** Several panels of an answer, those that have arrived. */
export function usePanels(asked: Asked, names: MaybeRefOrGetter<string[]>) {
  const found = useQueries({
    queries: computed(() => toValue(names).map((name) => panelQuery(asked, name, { value: '' }))),
  })
  return computed(() => found.value.flatMap(({ data }) => (data ? [data.panel] : [])))
}

/** Every lens for a question, and why it cannot answer it. */
export function useLenses(asked: Asked) {
  return useQuery({
    queryKey: computed(() => keyOf(asked, 'lenses')),
    queryFn: () =>
      unwrap(
        client.POST('/api/studies/{study_id}/answer/lenses', {
          params: { path: { study_id: toValue(asked.study)! } },
          body: { dataset: toValue(asked.dataset)!, question: toValue(asked.question)! },
        }),
      ),
    enabled: () => !!toValue(asked.dataset) && !!toValue(asked.question),
    staleTime: Infinity,
    placeholderData: (previous) => previous,
  })
}

/** How much of long work is done, from 0 to 1, while it is worth asking. */
export function useProgress(
  study: Maybe<string>,
  token: Maybe<string>,
  isWanted: MaybeRefOrGetter<boolean>,
) {
  return useQuery({
    queryKey: computed(() => ['progress', toValue(token)]),
    queryFn: () =>
      unwrap(
        client.GET('/api/studies/{study_id}/answer/under-way/{token}', {
          params: { path: { study_id: toValue(study)!, token: toValue(token)! } },
        }),
      ),
    enabled: () => !!toValue(token) && toValue(isWanted),
    refetchInterval: 500,
    gcTime: 0,
  })
}
