/** Weights in the making: what they would be, and making them. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import type { DataSet, Entry, Step, Study } from '@/api/types'
import { useMakeStep } from '@/api/useSteps'

export type WeightStep = Extract<Step, { step: 'network_weights' | 'rake' }>

export function useWeights(
  of: { study: Study; dataset: DataSet; codebook: Entry[] },
  step: () => WeightStep | undefined,
) {
  const steps = useMakeStep(
    () => of.study.id,
    () => of.dataset.id,
  )
  const refused = ref<Error>()
  const preview = useQuery({
    queryKey: computed(() => ['study', of.study.id, 'weights', of.dataset.id, step()]),
    queryFn: () =>
      unwrap(
        client.POST('/api/studies/{study_id}/datasets/{dataset_id}/steps/weights', {
          params: { path: { study_id: of.study.id, dataset_id: of.dataset.id } },
          body: { step: step()! },
        }),
      ),
    enabled: () => !!step(),
    retry: false,
  })

  /** Makes the weights and gives their name; undefined when that was refused. */
  async function make(): Promise<string | undefined> {
    refused.value = undefined
    const now = step()
    if (!now) return undefined
    const used = [
      now.variable,
      ...(now.step === 'rake' ? now.margins.map((margin) => margin.variable) : []),
    ]
    try {
      await steps.make(
        now,
        of.codebook.filter(({ variable }) => used.includes(variable.name)),
      )
      return now.name
    } catch (error) {
      refused.value = error as Error
      return undefined
    }
  }

  return { preview, refused, make }
}
