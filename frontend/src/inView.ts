/** The data set in view, which the other screens of its study open with. */
import { defineStore } from 'pinia'
import { reactive, watchEffect } from 'vue'

export const useInView = defineStore('in view', () => {
  const byStudy = reactive<Record<string, string>>({})

  /** Where a screen of a study leads: to the data set in view, if it is one of data sets. */
  function placeOf(screen: string, study: string) {
    const dataset = ['data', 'codebook'].includes(screen) ? byStudy[study] : undefined
    return { name: screen, params: { study, ...(dataset && { dataset }) } }
  }

  return { byStudy, placeOf }
})

/** Keep what a screen shows in view. */
export function useKeptInView(study: () => string, dataset: () => string | undefined) {
  const inView = useInView()
  watchEffect(() => {
    const shown = dataset()
    if (shown) inView.byStudy[study()] = shown
  })
}
