<script setup lang="ts">
/** Weights of a chain-referral sample: 1 over the number of people each reports to know. */
import { computed, ref } from 'vue'

import type { DataSet, Entry, Study } from '@/api/types'
import { numberIn } from '@/parts/typed'
import { freeName } from '@/screens/codebook/steps'
import { numericItems } from './design'
import WeightsForm from './WeightsForm.vue'

const props = defineProps<{ study: Study; dataset: DataSet; codebook: Entry[] }>()
const emit = defineEmits<{ made: [name: string]; close: [] }>()

const numeric = computed(() => numericItems(props.codebook))
const size = ref<string | null>(null)
const lowest = ref('1')
const highest = ref('')
const suggested = {
  name: freeName('network_weight', props.codebook),
  label: 'Weight from network size',
}

const problem = computed(() => {
  if (!size.value) return 'Choose the variable that holds the number of people known.'
  const low = numberIn(lowest.value)
  if (low === null || low <= 0) return 'The lowest size must be a number above 0.'
  const high = numberIn(highest.value)
  if (highest.value.trim() && (high === null || high <= low))
    return 'The highest size must be a number above the lowest, or empty.'
  return undefined
})
const plan = computed(() =>
  problem.value
    ? undefined
    : {
        step: 'network_weights' as const,
        variable: size.value!,
        lowest: numberIn(lowest.value)!,
        highest: numberIn(highest.value),
      },
)
</script>

<template>
  <WeightsForm
    v-bind="{ study, dataset, codebook, plan, problem, suggested }"
    @made="emit('made', $event)"
    @close="emit('close')"
  >
    <v-select v-model="size" :items="numeric" label="Number of people known" class="part" />
    <v-text-field v-model="lowest" inputmode="decimal" label="Taken as at least" class="small" />
    <v-text-field
      v-model="highest"
      inputmode="decimal"
      label="and at most"
      placeholder="any"
      class="small"
    />
  </WeightsForm>
</template>

<style scoped>
.part {
  flex: 0 1 300px;
}
.small {
  flex: 0 0 150px;
}
</style>
