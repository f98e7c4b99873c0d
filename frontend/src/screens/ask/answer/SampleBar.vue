<script setup lang="ts">
/** What the design of the sample changes, and the same question counted otherwise. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { design } from '@/screens/data/design'
import { useAsking } from '../useAsking'

defineProps<{ sample: Schemas['Sample'] }>()

const { answer, question, put, setOptions } = useAsking()
const isBeside = computed(() => !!answer.value.beside)
/** The weights alone, where there are strata or clusters to leave out. */
const weights = computed(() => {
  const counting = question.value.counted_by
  if (counting.kind !== 'design' || !counting.weights) return undefined
  return counting.strata || counting.clusters ? design(counting.weights) : undefined
})
</script>

<template>
  <p class="quiet sample" aria-label="The sample">
    <span v-if="sample.moved">{{ sample.moved }}</span>
    <button class="act" :aria-pressed="isBeside" @click="setOptions({ beside: !isBeside })">
      {{ isBeside ? 'with the design alone' : 'with and without, side by side' }}
    </button>
    <button class="act" @click="put({ counted_by: { kind: 'each' } })">without the design</button>
    <button v-if="weights" class="act" @click="put({ counted_by: weights })">weights only</button>
  </p>
</template>

<style scoped>
.sample {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  margin-bottom: 10px;
  font-size: 0.93rem;
}
</style>
