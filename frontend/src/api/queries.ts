/** What the screens read from the server, kept fresh by TanStack Query. */
import { useQueries, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'

import { client, unwrap } from './client'
import type { Recipe, Subset } from './types'

export type Maybe<T> = MaybeRefOrGetter<T | undefined>

export const keys = {
  session: ['session'] as const,
  studies: ['studies'] as const,
  study: (study?: string) => ['study', study] as const,
  datasets: (study?: string) => ['study', study, 'datasets'] as const,
  jobs: (study?: string) => ['study', study, 'jobs'] as const,
  codebook: (study?: string, dataset?: string) => ['study', study, 'codebook', dataset] as const,
  steps: (study?: string, dataset?: string) => ['study', study, 'steps', dataset] as const,
  places: (study?: string) => ['study', study, 'places'] as const,
  lenders: (study?: string) => ['study', study, 'lenders'] as const,
  recipe: (study?: string, dataset?: string) => ['study', study, 'recipe', dataset] as const,
  subsets: (study?: string) => ['study', study, 'subsets'] as const,
  questions: (study?: string) => ['study', study, 'questions'] as const,
}

export function useSession() {
  return useQuery({
    queryKey: keys.session,
    queryFn: () => unwrap(client.GET('/api/session')),
    staleTime: Infinity,
  })
}

export function useStudies() {
  return useQuery({ queryKey: keys.studies, queryFn: () => unwrap(client.GET('/api/studies')) })
}

export function useStudy(study: Maybe<string>) {
  return useQuery({
    queryKey: computed(() => keys.study(toValue(study))),
    queryFn: () =>
      unwrap(
        client.GET('/api/studies/{study_id}', { params: { path: { study_id: toValue(study)! } } }),
      ),
    enabled: () => !!toValue(study),
  })
}

export function useDatasets(study: Maybe<string>) {
  return useQuery({
    queryKey: computed(() => keys.datasets(toValue(study))),
    queryFn: () =>
      unwrap(
        client.GET('/api/studies/{study_id}/datasets', {
          params: { path: { study_id: toValue(study)! } },
        }),
      ),
    enabled: () => !!toValue(study),
  })
}

/** Long work that waits or runs, or failed; looked at often while there is any. */
export function useJobs(study: Maybe<string>) {
  return useQuery({
    queryKey: computed(() => keys.jobs(toValue(study))),
    queryFn: () =>
      unwrap(
        client.GET('/api/studies/{study_id}/jobs', {
          params: { path: { study_id: toValue(study)! } },
        }),
      ),
    enabled: () => !!toValue(study),
    refetchInterval: (query) =>
      query.state.data?.some((job) => job.state !== 'failed') ? 400 : false,
  })
}

export function useCodebook(study: Maybe<string>, dataset: Maybe<string>) {
  return useQuery({
    queryKey: computed(() => keys.codebook(toValue(study), toValue(dataset))),
    queryFn: () =>
      unwrap(
        client.GET('/api/studies/{study_id}/datasets/{dataset_id}/codebook', {
          params: { path: { study_id: toValue(study)!, dataset_id: toValue(dataset)! } },
        }),
      ),
    enabled: () => !!toValue(study) && !!toValue(dataset),
  })
}

/** The codebooks of several data sets, each undefined until it is there. */
export function useCodebooks(study: Maybe<string>, datasets: MaybeRefOrGetter<string[]>) {
  return useQueries({
    queries: computed(() =>
      toValue(datasets).map((dataset) => ({
        queryKey: keys.codebook(toValue(study), dataset),
        queryFn: () =>
          unwrap(
            client.GET('/api/studies/{study_id}/datasets/{dataset_id}/codebook', {
              params: { path: { study_id: toValue(study)!, dataset_id: dataset } },
            }),
          ),
      })),
    ),
    combine: (found) => found.map((each) => each.data),
  })
}

/** Which lenders answer now, and what they offer. */
export function useLenders(study: Maybe<string>) {
  return useQuery({
    queryKey: computed(() => keys.lenders(toValue(study))),
    queryFn: () =>
      unwrap(
        client.GET('/api/studies/{study_id}/lenders', {
          params: { path: { study_id: toValue(study)! } },
        }),
      ),
    enabled: () => !!toValue(study),
    staleTime: 30_000,
  })
}

/** Where data may be linked whose rows stay there. */
export function usePlaces(study: Maybe<string>) {
  return useQuery({
    queryKey: computed(() => keys.places(toValue(study))),
    queryFn: () =>
      unwrap(
        client.GET('/api/studies/{study_id}/places', {
          params: { path: { study_id: toValue(study)! } },
        }),
      ),
    enabled: () => !!toValue(study),
    staleTime: 30_000,
  })
}

/** How a data set is made of others. */
export function useRecipe(study: Maybe<string>, dataset: Maybe<string>) {
  return useQuery({
    queryKey: computed(() => keys.recipe(toValue(study), toValue(dataset))),
    queryFn: () =>
      unwrap(
        client.GET('/api/studies/{study_id}/datasets/{dataset_id}/recipe', {
          params: { path: { study_id: toValue(study)!, dataset_id: toValue(dataset)! } },
        }),
      ),
    enabled: () => !!toValue(study) && !!toValue(dataset),
  })
}

/** What a recipe would make, worked out anew whenever it changes. */
export function useRecipeLook(
  study: Maybe<string>,
  sources: MaybeRefOrGetter<string[]>,
  recipe: Maybe<Recipe>,
) {
  return useQuery({
    queryKey: computed(() => [
      'study',
      toValue(study),
      'recipe-look',
      toValue(sources),
      toValue(recipe),
    ]),
    queryFn: () =>
      unwrap(
        client.POST('/api/studies/{study_id}/bring/look', {
          params: { path: { study_id: toValue(study)! } },
          body: { sources: toValue(sources), recipe: toValue(recipe)! },
        }),
      ),
    enabled: () => !!toValue(recipe) && toValue(sources).length > 0,
    placeholderData: (previous) => previous,
    retry: false,
  })
}

export function useSteps(study: Maybe<string>, dataset: Maybe<string>) {
  return useQuery({
    queryKey: computed(() => keys.steps(toValue(study), toValue(dataset))),
    queryFn: () =>
      unwrap(
        client.GET('/api/studies/{study_id}/datasets/{dataset_id}/steps', {
          params: { path: { study_id: toValue(study)!, dataset_id: toValue(dataset)! } },
        }),
      ),
    enabled: () => !!toValue(study) && !!toValue(dataset),
  })
}

export function useQuestions(study: Maybe<string>) {
  return useQuery({
    queryKey: computed(() => keys.questions(toValue(study))),
    queryFn: () =>
      unwrap(
        client.GET('/api/studies/{study_id}/questions', {
          params: { path: { study_id: toValue(study)! } },
        }),
      ),
    enabled: () => !!toValue(study),
  })
}

export function useSubsets(study: Maybe<string>) {
  return useQuery({
    queryKey: computed(() => keys.subsets(toValue(study))),
    queryFn: () =>
      unwrap(
        client.GET('/api/studies/{study_id}/subsets', {
          params: { path: { study_id: toValue(study)! } },
        }),
      ),
    enabled: () => !!toValue(study),
  })
}

/** How many rows a rule takes in. */
export function useSubsetCount(
  study: Maybe<string>,
  dataset: Maybe<string>,
  rule: Maybe<Subset | null>,
) {
  return useQuery({
    queryKey: computed(() => [
      'study',
      toValue(study),
      'subset-count',
      toValue(dataset),
      toValue(rule),
    ]),
    queryFn: () =>
      unwrap(
        client.POST('/api/studies/{study_id}/subsets/count', {
          params: { path: { study_id: toValue(study)! } },
          body: { dataset: toValue(dataset)!, rule: toValue(rule)! },
        }),
      ),
    enabled: () => !!toValue(rule) && !!toValue(dataset),
    placeholderData: (previous) => previous,
  })
}

/** Forget what was read of a study, so that it is read again where it is in view. */
export function useRefresh() {
  const cache = useQueryClient()
  return async (...key: readonly unknown[]) => {
    // A first request under way is not asked again, and may have been answered before the change.
    await cache.cancelQueries({ queryKey: key })
    await cache.invalidateQueries({ queryKey: key })
  }
}
