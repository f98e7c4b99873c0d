/** What takes longer than a second says so, tells how far it is, and can be stopped. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, onScopeDispose, ref, watch, type Ref } from 'vue'

import { useProgress } from '@/api/queries'

const SLOW = 1000

export function useLongAnswer(
  study: () => string,
  answer: { token: Ref<string>; isFetching: Ref<boolean> },
) {
  const cache = useQueryClient()
  const isSlow = ref(false)
  let timer = 0
  watch(
    answer.isFetching,
    (isFetching) => {
      clearTimeout(timer)
      isSlow.value = false
      if (isFetching) timer = window.setTimeout(() => (isSlow.value = true), SLOW)
    },
    { immediate: true },
  )
  onScopeDispose(() => clearTimeout(timer))

  const progress = useProgress(study, answer.token, isSlow)
  /** In whole percent; 0 where nothing is known of it. */
  const percentDone = computed(() => Math.floor(100 * (progress.data.value?.done ?? 0)))
  const stop = () => cache.cancelQueries({ queryKey: ['study', study(), 'answer'] })

  return { isSlow, percentDone, stop }
}
