/** What takes longer than a second says so, tells how far it is, and can be stopped. */
import { computed, onScopeDispose, ref, watch, type Ref } from 'vue'

import { useProgress } from '@/api/answers'

const SLOW = 1000

export function useLongWork(
  study: () => string,
  work: { token: Ref<string>; isFetching: Ref<boolean> },
) {
  const isSlow = ref(false)
  let timer = 0
  watch(
    work.isFetching,
    (isFetching) => {
      clearTimeout(timer)
      isSlow.value = false
      if (isFetching) timer = window.setTimeout(() => (isSlow.value = true), SLOW)
    },
    { immediate: true },
  )
  onScopeDispose(() => clearTimeout(timer))

  const progress = useProgress(study, work.token, isSlow)
  /** In whole percent; 0 where nothing is known of it. */
  const percentDone = computed(() => Math.floor(100 * (progress.data.value?.done ?? 0)))
  return { isSlow, percentDone }
}
