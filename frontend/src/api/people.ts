/** People: who is in a study, who is here now, and one's own account. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onScopeDispose, ref, toValue, watch } from 'vue'

import { client, unwrap } from './client'
import { keys, type Maybe } from './queries'
import type { Schemas } from './types'

export type Here = Schemas['HereOut']
export type Member = Schemas['MemberOut']
type Marks = Omit<Schemas['PulseOut'], 'here'>

const BEAT = 2000
const WINDOW = Math.random().toString(36).slice(2)

/** What changed elsewhere, by its mark, and what is read anew then. */
const CHANGED: Record<keyof Marks, string[]> = {
  questions: ['questions', 'people'],
  datasets: ['datasets', 'codebook', 'steps', 'jobs', 'subsets', 'people'],
  reports: ['reports', 'people'],
  people: ['people'],
}

/** What a person is changing: the innermost part under the focus that says what it is of. */
export function edited(focused: Element | null): string {
  const part = focused?.closest<HTMLElement>('[data-editing]')
  return part?.dataset.editing ?? ''
}

/** While a study is open: others are told where one is, and one sees what they did within two
 * seconds. Nothing is asked while the window is hidden. */
export function usePulse(study: Maybe<string>, screen: Maybe<string>) {
  const cache = useQueryClient()
  const here = ref<Here[]>([])

  async function beat() {
    const study_id = toValue(study)
    if (!study_id || document.hidden) return
    const editing = edited(document.activeElement)
    try {
      const told = await unwrap(
        client.POST('/api/studies/{study_id}/pulse', {
          params: { path: { study_id } },
          body: { window: WINDOW, screen: toValue(screen) ?? '', editing },
        }),
      )
      if (study_id !== toValue(study)) return
      const { here: others, ...marks } = told
      here.value = others
      // Kept as long as what was read: whoever comes back to a study has read it before.
      const before = cache.getQueryData<Marks>(['marks', study_id])
      if (before) refresh(study_id, before, marks)
      cache.setQueryData(['marks', study_id], marks)
    } catch {
      here.value = []
    }
  }

  function refresh(study_id: string, was: Marks, now: Marks) {
    for (const [mark, read] of Object.entries(CHANGED) as [keyof Marks, string[]][])
      if (was[mark] !== now[mark])
        for (const name of read)
          void cache.invalidateQueries({ queryKey: ['study', study_id, name] })
  }

  watch(
    () => toValue(study),
    () => {
      here.value = []
      void beat()
    },
    { immediate: true },
  )
  const timer = window.setInterval(() => void beat(), BEAT)
  onScopeDispose(() => clearInterval(timer))
  return { here, beat }
}

export function usePeople(study: Maybe<string>) {
  return useQuery({
    queryKey: computed(() => ['study', toValue(study), 'people']),
    queryFn: () =>
      unwrap(
        client.GET('/api/studies/{study_id}/people', {
          params: { path: { study_id: toValue(study)! } },
        }),
      ),
    enabled: () => !!toValue(study),
  })
}

/** Who did what, newest first. */
export function useLog(study: Maybe<string>, isWanted: Maybe<boolean>) {
  return useQuery({
    queryKey: computed(() => ['study', toValue(study), 'people', 'log']),
    queryFn: () =>
      unwrap(
        client.GET('/api/studies/{study_id}/log', {
          params: { path: { study_id: toValue(study)! }, query: { limit: 200 } },
        }),
      ),
    enabled: () => !!toValue(study) && !!toValue(isWanted),
  })
}

export function useSignIns() {
  return useQuery({
    queryKey: [...keys.session, 'sign-ins'],
    queryFn: () => unwrap(client.GET('/api/account/sessions')),
  })
}

export function useOverview(isWanted: Maybe<boolean>) {
  return useQuery({
    queryKey: ['operator'],
    queryFn: () => unwrap(client.GET('/api/operator')),
    enabled: () => !!toValue(isWanted),
    refetchInterval: 5000,
  })
}
