<script setup lang="ts">
/** Pooled over strata: each group against the reference, and tests of the whole tables. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { limits, points, pValue, ratio, statistic } from '@/design/numbers'

const props = defineProps<{ pooled: Schemas['Pooled'] }>()

const tests = computed(() => {
  const general = props.pooled.generalized_cochran_mantel_haenszel
  return (
    [
      [
        'Association within strata (generalised Cochran–Mantel–Haenszel)',
        general.general_association,
      ],
      ['Mean scores differ', general.row_mean_scores],
      ['Trend with trend', general.correlation],
      [
        'Not the same in every stratum (likelihood ratio, three-way)',
        props.pooled.three_way_interaction,
      ],
    ] as const
  ).flatMap(([what, test]) => (test ? [{ what, ...test }] : []))
})
</script>

<template>
  <div class="scroll">
    <table v-if="pooled.pairs.length" class="plain pooled">
      <thead>
        <tr>
          <th scope="col">Pooled over strata (Mantel–Haenszel)</th>
          <th scope="col">odds ratio</th>
          <th scope="col">crude</th>
          <th scope="col">ratio of shares</th>
          <th scope="col">difference, points</th>
          <th scope="col" title="Cochran–Mantel–Haenszel">test, p</th>
          <th scope="col" title="Breslow–Day with Tarone’s correction">same everywhere? p</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="pair in pooled.pairs" :key="pair.value">
          <th scope="row">{{ pair.label }}</th>
          <td>
            <b>{{ ratio(pair.mantel_haenszel_odds_ratio?.estimate) }}</b>
            <small class="quiet"> {{ limits(pair.mantel_haenszel_odds_ratio?.ci) }}</small>
          </td>
          <td>{{ ratio(pair.crude_odds_ratio) }}</td>
          <td>
            {{ ratio(pair.mantel_haenszel_risk_ratio?.estimate) }}
            <small class="quiet"> {{ limits(pair.mantel_haenszel_risk_ratio?.ci) }}</small>
          </td>
          <td>{{ points(pair.mantel_haenszel_risk_difference?.estimate) }}</td>
          <td>{{ pValue(pair.cochran_mantel_haenszel?.p) }}</td>
          <td>{{ pValue(pair.breslow_day_tarone?.p) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <table v-if="tests.length" class="plain pooled">
    <tbody>
      <tr v-for="test in tests" :key="test.what">
        <th scope="row">{{ test.what }}</th>
        <td>χ² {{ statistic(test.statistic) }}</td>
        <td>df {{ test.df }}</td>
        <td>p {{ pValue(test.p) }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.pooled {
  margin-top: 12px;
}
</style>
