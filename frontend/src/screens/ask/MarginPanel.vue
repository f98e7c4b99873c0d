<script setup lang="ts">
/** Equivalence and non-inferiority against a stated margin, by the interval. */
import { computed } from 'vue'

import type { ProportionsResults, Question } from '@/api/types'
import RichText from '@/parts/RichText.vue'

const props = defineProps<{ question: Question; results: ProportionsResults }>()
const emit = defineEmits<{ change: [changes: Record<string, unknown>] }>()

const aims = [
  { value: 'equivalent', title: 'equivalent (neither way)' },
  { value: 'not_below', title: 'not lower' },
  { value: 'not_above', title: 'not higher' },
]
const margin = computed(() => {
  const share = props.question.options.margin
  return typeof share === 'number' ? +(100 * share).toFixed(6) : ''
})

function setMargin(text: string) {
  const points = Number(text.replace(',', '.'))
  emit('change', { margin: text.trim() === '' || Number.isNaN(points) ? undefined : points / 100 })
}
</script>

<template>
  <div class="choices">
    <v-text-field
      :model-value="margin"
      label="Margin, percentage points"
      class="narrow"
      @change="setMargin(($event.target as HTMLInputElement).value)"
    />
    <v-select
      :model-value="question.options.aim ?? 'equivalent'"
      :items="aims"
      :label="`Than ${results.whole.reference_label}`"
      class="wide"
      @update:model-value="emit('change', { aim: $event })"
    />
  </div>
  <ul v-if="results.whole.within_margin.length">
    <li v-for="each in results.whole.within_margin" :key="each.label">
      <RichText :text="each.words" />
    </li>
  </ul>
  <p v-else class="quiet">State the smallest difference that would matter.</p>
</template>

<style scoped>
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}
.narrow {
  flex: 0 0 210px;
}
.wide {
  flex: 0 0 240px;
}
ul {
  margin: 8px 0 0;
  padding-left: 18px;
}
</style>
