/** The outcome as it is answered: the first of the variables of the answer. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { useResults } from '../useAsking'

export function useOutcome() {
  const results = useResults<Schemas['DistributionResults']>()
  return computed(() => results.value.variables[0]!)
}
