<script setup lang="ts">
/** The frame of the forms that make weights: what they would be, before and after; make and use. */
import { ref } from 'vue'

import type { DataSet, Entry, Study } from '@/api/types'
import ErrorNote from '@/parts/ErrorNote.vue'
import MakeForm from '@/screens/codebook/MakeForm.vue'
import WeightsTable from './WeightsTable.vue'
import { useWeights, type WeightPlan } from './useWeights'

const props = defineProps<{
  study: Study
  dataset: DataSet
  codebook: Entry[]
  /** What to make, without its name; undefined while something is missing. */
  plan?: WeightPlan
  problem?: string
  suggested: { name: string; label: string }
}>()
const emit = defineEmits<{ made: [name: string]; close: [] }>()

const name = ref(props.suggested.name)
const label = ref(props.suggested.label)
const { preview, refused, make } = useWeights(props, () => props.plan)

async function finish() {
  const chosen = name.value.trim()
  if (await make(chosen, label.value.trim())) emit('made', chosen)
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
    <div class="parts"><slot /></div>
    <div class="sides">
      <div v-if="$slots.totals"><slot name="totals" /></div>
      <WeightsTable
        v-if="plan && preview.data.value"
        :look="preview.data.value"
        :noun="{ one: dataset.noun_one, many: dataset.noun_many }"
      />
    </div>
    <ErrorNote :error="refused ?? preview.error.value" />
  </MakeForm>
</template>

<style scoped>
.parts {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 24px;
}
.sides {
  display: grid;
  grid-template-columns: minmax(0, 400px) minmax(0, 1fr);
  gap: 12px 40px;
}
.sides > :only-child {
  grid-column: 1 / -1;
}
@media (max-width: 760px) {
  .sides {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
