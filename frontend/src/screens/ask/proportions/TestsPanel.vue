<script setup lang="ts">
/** How shares are given intervals and tested: all groups, each against the reference, every two. */
import type { Schemas } from '@/api/types'
import { pEquals, pValue, two } from '@/design/numbers'
import IntervalFields from '../answer/IntervalFields.vue'
import TestTable from '../answer/TestTable.vue'
import { useOptions, useResults } from '../useAsking'

defineProps<{ found: Schemas['SharesTestsPanel'] }>()

const FEW = 12
const MANY = 60
const results = useResults<Schemas['ProportionsResults']>()
const { options, set } = useOptions('proportions')
const alternatives = [
  { value: 'two_sided', title: 'different (two-sided)' },
  { value: 'less', title: 'lower than the reference' },
  { value: 'greater', title: 'higher than the reference' },
]
</script>

<template>
  <div class="choices">
    <IntervalFields :method="options.share_interval" @change="set({ share_interval: $event })" />
    <v-select
      :model-value="options.alternative"
      :items="alternatives"
      label="Tested whether"
      class="wide"
      @update:model-value="set({ alternative: $event })"
    />
  </div>
  <TestTable :tests="found.tests" class="tests" />
  <table v-if="found.comparisons.some(({ z_test }) => z_test)" class="plain tests">
    <tbody>
      <tr v-for="each in found.comparisons.slice(0, FEW)" :key="each.label">
        <th scope="row">{{ each.label }} against {{ results.whole.reference_label }}</th>
        <td>{{ each.z_test ? `z ${two(each.z_test.statistic)}` : '' }}</td>
        <td>{{ each.z_test ? pEquals(each.z_test.p_two_sided) : '' }}</td>
        <td>{{ each.fisher_p === null ? '' : `exact ${pEquals(each.fisher_p)}` }}</td>
      </tr>
    </tbody>
  </table>
  <table v-if="found.pairwise.length" class="plain tests">
    <thead>
      <tr>
        <th scope="col">Every two groups</th>
        <th scope="col">z</th>
        <th scope="col">p</th>
        <th scope="col">Holm</th>
        <th scope="col">Bonferroni</th>
        <th scope="col">Benjamini–Hochberg</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="pair in found.pairwise.slice(0, MANY)" :key="`${pair.one} ${pair.other}`">
        <th scope="row">{{ pair.one }} and {{ pair.other }}</th>
        <td>{{ two(pair.statistic) }}</td>
        <td>{{ pValue(pair.p) }}</td>
        <td>{{ pValue(pair.holm) }}</td>
        <td>{{ pValue(pair.bonferroni) }}</td>
        <td>{{ pValue(pair.benjamini_hochberg) }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.tests {
  margin-top: 10px;
}
</style>
