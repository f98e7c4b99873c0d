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
  /** How far it is, or whose turn it is where it waits for others; "" where nothing is known. */
  const words = computed(() => {
    const place = progress.data.value?.place
    if (place) return `Waiting for its turn: number ${place} in the queue.`
    return percentDone.value ? `Working it out… ${percentDone.value}% done.` : ''
  })
  return { isSlow, words }
}
