/** Weights in the making: what they would be, and making them. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import type { DataSet, Entry, Step, Study } from '@/api/types'
import { useMakeStep } from '@/api/useSteps'

export type WeightStep = Extract<Step, { step: 'network_weights' | 'rake' }>
type Unnamed<T> = T extends unknown ? Omit<T, 'name' | 'label'> : never
/** What to make, before it has a name. */
export type WeightPlan = Unnamed<WeightStep>

export function useWeights(
  of: { study: Study; dataset: DataSet; codebook: Entry[] },
  plan: () => WeightPlan | undefined,
) {
  const steps = useMakeStep(
    () => of.study.id,
    () => of.dataset.id,
  )
  const refused = ref<Error>()
  const named = (name: string, label = '') => ({ ...plan()!, name, label }) as WeightStep
  const preview = useQuery({
    queryKey: computed(() => ['study', of.study.id, 'weights', of.dataset.id, plan()]),
    queryFn: () =>
      unwrap(
        client.POST('/api/studies/{study_id}/datasets/{dataset_id}/steps/weights', {
          params: { path: { study_id: of.study.id, dataset_id: of.dataset.id } },
          body: { step: named('preview') },
        }),
      ),
    enabled: () => !!plan(),
    retry: false,
  })

  /** Makes the weights and says whether they were made. */
  async function make(name: string, label: string): Promise<boolean> {
    refused.value = undefined
    const step = named(name, label)
    const used = [
      step.variable,
      ...(step.step === 'rake' ? step.margins.map((margin) => margin.variable) : []),
    ]
    try {
      await steps.make(
        step,
        of.codebook.filter(({ variable }) => used.includes(variable.name)),
      )
      return true
    } catch (error) {
      refused.value = error as Error
      return false
    }
  }

  return { preview, refused, make }
}
