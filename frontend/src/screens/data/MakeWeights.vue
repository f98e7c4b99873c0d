<script setup lang="ts">
/** Weights made from known totals or from network sizes. */
import { ref } from 'vue'

import type { DataSet, Entry, Study } from '@/api/types'
import NetworkWeights from './NetworkWeights.vue'
import RakeWeights from './RakeWeights.vue'

defineProps<{ study: Study; dataset: DataSet; codebook: Entry[]; weights?: string }>()
const emit = defineEmits<{ made: [name: string] }>()

const making = ref<'networks' | 'totals'>()

function done(name: string) {
  making.value = undefined
  emit('made', name)
}
</script>

<template>
  <p class="line">
    <button
      class="act"
      :aria-expanded="making === 'totals'"
      @click="making = making === 'totals' ? undefined : 'totals'"
    >
      Fit weights to known totals
    </button>
    <button
      class="act"
      :aria-expanded="making === 'networks'"
      @click="making = making === 'networks' ? undefined : 'networks'"
    >
      Weights from network sizes
    </button>
  </p>
  <RakeWeights
    v-if="making === 'totals'"
    :study="study"
    :dataset="dataset"
    :codebook="codebook"
    :weights="weights"
    class="whole"
    @made="done"
    @close="making = undefined"
  />
  <NetworkWeights
    v-if="making === 'networks'"
    :study="study"
    :dataset="dataset"
    :codebook="codebook"
    class="whole"
    @made="done"
    @close="making = undefined"
  />
</template>

<style scoped>
.line,
.whole {
  flex: 1 1 100%;
}
.line {
  display: flex;
  gap: 20px;
}
</style>
