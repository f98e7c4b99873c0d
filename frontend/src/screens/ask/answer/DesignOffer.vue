<script setup lang="ts">
/** A design is recorded for the data, and the question uses none or another. */
import { computed } from 'vue'

import { useAsking } from '../useAsking'

const { dataset, question, put } = useAsking()
const isOffered = computed(() => {
  const recorded = dataset.value.counted_by
  const asked = question.value.counted_by
  if (recorded.kind !== 'design' || asked.kind === 'counts') return false
  if (asked.kind === 'each') return true
  const parts = ['weights', 'strata', 'clusters', 'single', 'errors'] as const
  return parts.some((part) => asked[part] !== recorded[part])
})
</script>

<template>
  <p v-if="isOffered" class="quiet design">
    {{
      question.counted_by.kind === 'each'
        ? 'A design is recorded for these data, but not used here:'
        : 'The design used here is not the one recorded for the data:'
    }}
    <button class="act" @click="put({ counted_by: dataset.counted_by })">with the design</button>
  </p>
</template>

<style scoped>
.design {
  margin: 6px 0;
  font-size: 0.93rem;
}
</style>
