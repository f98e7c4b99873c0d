<script setup lang="ts">
/** To which population shares are standardised: everyone counted, or stated weights. */
import { ref, watch } from 'vue'

import type { Schemas } from '@/api/types'
import { inField } from '@/design/numbers'
import { useOptions } from '../useAsking'

defineProps<{ strata: readonly Schemas['StratumShares'][] }>()

const { options, set } = useOptions('proportions')
const typed = ref<Record<string, string>>({})
watch(
  () => options.value.standard,
  (standard) => {
    const known = Object.entries(standard ?? {})
    typed.value = Object.fromEntries(known.map(([key, weight]) => [key, inField(weight)]))
  },
  { immediate: true },
)
const key = (values: readonly string[]) => values.join(' · ')

function standardise() {
  const weights = Object.entries(typed.value).filter(([, text]) => text.trim() !== '')
  const numbers = weights.map(([stratum, text]) => {
    const weight = Number(text.replace(',', '.'))
    // What is no number is sent as it is, so that the answer says what is wrong with it.
    return [stratum, Number.isNaN(weight) ? text : weight]
  })
  set({ standard: numbers.length ? Object.fromEntries(numbers) : null })
}
</script>

<template>
  <details>
    <summary class="quiet">
      Standardised to {{ options.standard ? 'the stated weights' : 'everyone counted' }}
    </summary>
    <form class="weights" @submit.prevent="standardise">
      <label v-for="stratum in strata" :key="stratum.label"
        ><span>{{ stratum.label }}</span
        ><input
          v-model="typed[key(stratum.values)]"
          class="line"
          inputmode="decimal"
          placeholder="weight"
      /></label>
      <button class="act" type="submit">Standardise to these weights</button>
    </form>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  margin-top: 6px;
}
.weights {
  display: grid;
  gap: 4px;
  max-width: 380px;
  padding: 6px 0;
}
.weights label {
  display: grid;
  grid-template-columns: 1fr 110px;
  gap: 12px;
}
</style>
