<script setup lang="ts">
/** The exact test of a larger table: gone through where that is feasible, drawn otherwise. */
import type { Schemas } from '@/api/types'
import { count, fixed, limits, pEquals, pValue } from '@/design/numbers'
import DrawsAndSeed from '@/parts/DrawsAndSeed.vue'
import { useOptions } from '../useAsking'

defineProps<{ found: Schemas['ExactPanel'] }>()

const { options, set } = useOptions('crosstab')
const methods = [
  { value: 'when_sparse', title: 'when the table is sparse' },
  { value: 'enumerate', title: 'going through all tables' },
  { value: 'monte_carlo', title: 'by drawing tables' },
  { value: 'no', title: 'never' },
]
const four = (p: number) => fixed(p, 4)
</script>

<template>
  <div class="choices">
    <v-select
      :model-value="options.exact"
      :items="methods"
      label="Exact test"
      class="wide"
      @update:model-value="set({ exact: $event })"
    />
    <DrawsAndSeed
      v-if="options.exact === 'monte_carlo'"
      label="Tables drawn"
      :draws="options.draws"
      :from="1000"
      :to="1000000"
      :seed="options.seed"
      @change="set"
    />
  </div>
  <p v-if="found.exact" class="found">
    <b>{{ pEquals(found.exact.fisher_freeman_halton_p) }}</b>
    <template v-if="found.exact.method === 'enumeration'">
      (Fisher–Freeman–Halton, all tables with these totals; mid-p
      {{ pValue(found.exact.fisher_freeman_halton_mid_p) }})</template
    >
    <template v-else>
      (Fisher–Freeman–Halton, {{ count(found.exact.draws!) }} tables drawn with seed
      {{ found.exact.seed }}; 95% interval for p {{ limits(found.exact.p_ci, four) }})</template
    >
    <span v-if="found.drawn_instead" class="quiet">
      There are too many tables to go through all of them, so they were drawn.</span
    >
  </p>
  <p v-else class="found quiet">
    {{
      options.exact === 'when_sparse'
        ? 'Not needed here: expected counts are large enough for the chi-square test.'
        : 'No exact test.'
    }}
  </p>
</template>

<style scoped>
.found {
  margin-top: 8px;
}
</style>
