<script setup lang="ts">
/** Weights of a chain-referral sample: 1 over the number of people each reports to know. */
import { computed, ref } from 'vue'

import type { DataSet, Entry, Study } from '@/api/types'
import ErrorNote from '@/parts/ErrorNote.vue'
import { titleOf } from '@/parts/kinds'
import { numberIn } from '@/parts/typed'
import MakeForm from '@/screens/codebook/MakeForm.vue'
import { freeName } from '@/screens/codebook/steps'
import WeightsTable from './WeightsTable.vue'
import { useWeights } from './useWeights'

const props = defineProps<{ study: Study; dataset: DataSet; codebook: Entry[] }>()
const emit = defineEmits<{ made: [name: string]; close: [] }>()

const numeric = computed(() =>
  props.codebook
    .filter(({ variable }) => variable.kind === 'numeric')
    .map(({ variable }) => ({ title: titleOf(variable), value: variable.name })),
)
const size = ref<string | null>(null)
const lowest = ref('1')
const highest = ref('')
const name = ref(freeName('network_weight', props.codebook))
const label = ref('Weight from network size')

const problem = computed(() => {
  if (!size.value) return 'Choose the variable that holds the number of people known.'
  const low = numberIn(lowest.value)
  if (low === null || low <= 0) return 'The lowest size must be a number above 0.'
  const high = numberIn(highest.value)
  if (highest.value.trim() && (high === null || high <= low))
    return 'The highest size must be a number above the lowest, or empty.'
  return undefined
})
const step = computed(() =>
  problem.value
    ? undefined
    : {
        step: 'network_weights' as const,
        variable: size.value!,
        name: name.value.trim() || 'network_weight',
        label: label.value.trim(),
        lowest: numberIn(lowest.value)!,
        highest: numberIn(highest.value),
      },
)
const { preview, refused, make } = useWeights(props, () => step.value)

async function finish() {
  const made = await make()
  if (made) emit('made', made)
}
</script>

<template>
  <MakeForm
    v-model:name="name"
    v-model:label="label"
    action="Make and use these weights"
    :problem="problem"
    @make="finish"
    @close="emit('close')"
  >
    <div class="parts">
      <v-select v-model="size" :items="numeric" label="Number of people known" class="part" />
      <v-text-field v-model="lowest" inputmode="decimal" label="Taken as at least" class="small" />
      <v-text-field
        v-model="highest"
        inputmode="decimal"
        label="and at most"
        placeholder="any"
        class="small"
      />
    </div>
    <WeightsTable
      v-if="step && preview.data.value"
      :look="preview.data.value"
      :noun="{ one: dataset.noun_one, many: dataset.noun_many }"
    />
    <ErrorNote :error="refused ?? preview.error.value" />
  </MakeForm>
</template>

<style scoped>
.parts {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}
.part {
  flex: 0 1 300px;
}
.small {
  flex: 0 0 150px;
}
</style>
