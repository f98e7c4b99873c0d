<script setup lang="ts">
/** Equivalence and non-inferiority against a stated margin, by the interval. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { inField } from '@/design/numbers'
import RichText from '@/parts/RichText.vue'
import { useOptions, useResults } from '../useAsking'

defineProps<{ found: Schemas['MarginPanel'] }>()

const results = useResults<Schemas['ProportionsResults']>()
const { options, set } = useOptions('proportions')
const aims = [
  { value: 'equivalent', title: 'equivalent (neither way)' },
  { value: 'not_below', title: 'not lower' },
  { value: 'not_above', title: 'not higher' },
]
const margin = computed(() => {
  const share = options.value.margin
  return share === null ? '' : inField(100 * share!)
})

function setMargin(text: string) {
  const points = Number(text.replace(',', '.'))
  set({ margin: text.trim() === '' || Number.isNaN(points) ? null : points / 100 })
}
</script>

<template>
  <div class="choices">
    <v-text-field
      :model-value="margin"
      label="Margin, percentage points"
      class="medium"
      @change="setMargin(($event.target as HTMLInputElement).value)"
    />
    <v-select
      :model-value="options.aim"
      :items="aims"
      :label="`Than ${results.whole.reference_label}`"
      class="wide"
      @update:model-value="set({ aim: $event })"
    />
  </div>
  <ul v-if="found.within_margin.length">
    <li v-for="each in found.within_margin" :key="each.label">
      <RichText :text="each.words" />
    </li>
  </ul>
  <p v-else class="quiet">State the smallest difference that would matter.</p>
</template>

<style scoped>
ul {
  margin: 8px 0 0;
  padding-left: 18px;
}
</style>
