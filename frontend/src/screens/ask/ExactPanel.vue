<script setup lang="ts">
/** The exact test of a larger table: gone through where that is feasible, drawn otherwise. */
import { computed } from 'vue'

import type { Crosstab, Question } from '@/api/types'
import { count, pEquals, pValue } from '@/design/numbers'
import DrawsAndSeed from '@/parts/DrawsAndSeed.vue'
import { withOptions } from './options'

const props = defineProps<{ table: Crosstab; question: Question }>()
const emit = defineEmits<{ change: [question: Question] }>()

const exact = computed(() => props.table.exact)
const method = computed(() => (props.question.options.exact as string) ?? 'when_sparse')
const methods = [
  { value: 'when_sparse', title: 'when the table is sparse' },
  { value: 'enumerate', title: 'going through all tables' },
  { value: 'monte_carlo', title: 'by drawing tables' },
  { value: 'no', title: 'never' },
]

function set(changes: Record<string, unknown>) {
  emit('change', withOptions(props.question, changes))
}
</script>

<template>
  <div class="options">
    <v-select
      :model-value="method"
      :items="methods"
      label="Exact test"
      class="wide"
      @update:model-value="set({ exact: $event })"
    />
    <DrawsAndSeed
      v-if="method === 'monte_carlo'"
      label="Tables drawn"
      :draws="Number(question.options.draws ?? 20000)"
      :from="1000"
      :to="1000000"
      :seed="Number(question.options.seed ?? 1)"
      @change="set"
    />
  </div>
  <p v-if="exact" class="found">
    <b>{{ pEquals(exact.fisher_freeman_halton_p) }}</b>
    <template v-if="exact.method === 'enumeration'">
      (Fisher–Freeman–Halton, all tables with these totals; mid-p
      {{ pValue(exact.fisher_freeman_halton_mid_p!) }})</template
    >
    <template v-else>
      (Fisher–Freeman–Halton, {{ count(exact.draws!) }} tables drawn with seed {{ exact.seed }}; 95%
      interval for p {{ exact.p_ci_95![0].toFixed(4) }} to
      {{ exact.p_ci_95![1].toFixed(4) }})</template
    >
    <span v-if="method === 'enumerate' && exact.method === 'monte_carlo'" class="quiet">
      There are too many tables to go through all of them, so they were drawn.</span
    >
  </p>
  <p v-else class="found quiet">
    {{
      method === 'when_sparse'
        ? 'Not needed here: expected counts are large enough for the chi-square test.'
        : 'No exact test.'
    }}
  </p>
</template>

<style scoped>
.options {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}
.wide {
  flex: 0 0 250px;
}
.found {
  margin-top: 8px;
}
</style>
