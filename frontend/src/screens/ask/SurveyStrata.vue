<script setup lang="ts">
/** Weighted shares within each stratum, side by side. */
import { computed } from 'vue'

import type { Survey } from '@/api/types'
import { count, percent, pValue, short } from '@/design/numbers'
import { limitsOf, pointsOf, ratioOf } from './shareWords'

const props = defineProps<{ survey: Survey; title: string }>()

const columns = computed(() => {
  const seen = new Map<string, string>()
  for (const stratum of props.survey.strata)
    for (const share of stratum.shares) seen.set(share.value, share.label)
  return [...seen].map(([value, label]) => ({ value, label }))
})
const hasMeans = computed(() => props.survey.strata.some((each) => each.mean))
const hasTests = computed(() => props.survey.strata.some((each) => each.rao_scott_second_order))
/** Of two groups, how they compare in every stratum. */
const isPair = computed(() => props.survey.comparisons.length === 1)
const gapOf = (stratum: Survey['strata'][number]) => stratum.comparisons[0]
const wide = computed(
  () =>
    columns.value.length +
    Number(hasMeans.value) +
    Number(hasTests.value) +
    2 * Number(isPair.value),
)
const shareOf = (stratum: Survey['strata'][number], value: string) =>
  stratum.shares.find((share) => share.value === value)
</script>

<template>
  <section class="strata" :aria-label="`Within each ${title}`">
    <h3 class="overline">Within each {{ title }}, weighted</h3>
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">{{ title }}</th>
            <th scope="col">n, unweighted</th>
            <th v-for="column in columns" :key="column.value" scope="col">{{ column.label }}</th>
            <th v-if="hasMeans" scope="col">mean</th>
            <template v-if="isPair">
              <th scope="col">difference, points</th>
              <th scope="col">odds ratio</th>
            </template>
            <th v-if="hasTests" scope="col" title="Rao–Scott, second order">p</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="stratum in survey.strata" :key="stratum.label">
            <th scope="row">{{ stratum.label }}</th>
            <td>{{ count(stratum.n) }}</td>
            <td v-if="stratum.left_out" class="quiet" :colspan="wide">
              left out: {{ stratum.left_out }}
            </td>
            <template v-else>
              <td v-for="column in columns" :key="column.value">
                <template v-if="shareOf(stratum, column.value)"
                  >{{ percent(shareOf(stratum, column.value)!.estimate) }}<br /><small
                    class="quiet"
                    >{{ limitsOf(shareOf(stratum, column.value)!.ci, 100, 1) }}</small
                  ></template
                >
              </td>
              <td v-if="hasMeans">
                <template v-if="stratum.mean"
                  >{{ short(stratum.mean.estimate) }}
                  <small class="quiet">{{
                    stratum.mean.ci
                      ? `${short(stratum.mean.ci[0])} to ${short(stratum.mean.ci[1])}`
                      : ''
                  }}</small></template
                >
              </td>
              <template v-if="isPair">
                <td>
                  <template v-if="gapOf(stratum)">
                    {{ pointsOf(gapOf(stratum)!.risk_difference.estimate) }}<br /><small
                      class="quiet"
                      >{{ limitsOf(gapOf(stratum)!.risk_difference.ci, 100, 1) }}</small
                    >
                  </template>
                </td>
                <td>
                  <template v-if="gapOf(stratum)?.odds_ratio">
                    {{ ratioOf(gapOf(stratum)!.odds_ratio!.estimate) }}<br /><small class="quiet">{{
                      limitsOf(gapOf(stratum)!.odds_ratio!.ci)
                    }}</small>
                  </template>
                </td>
              </template>
              <td v-if="hasTests">
                {{
                  stratum.rao_scott_second_order ? pValue(stratum.rao_scott_second_order.p) : '—'
                }}
              </td>
            </template>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
</style>
