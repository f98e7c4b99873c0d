<script setup lang="ts">
/** The coefficients of the conditional likelihood, and how limits are worked out. */
import type { Schemas } from '@/api/types'
import { fixed, limits, pValue, ratio, statistic, three, two } from '@/design/numbers'
import LevelField from '../answer/LevelField.vue'
import { useOptions, useResults } from '../useAsking'

defineProps<{ found: Schemas['MatchedCoefficientsPanel'] }>()

const results = useResults<Schemas['MatchedResults']>()
const { set } = useOptions('within_sets')
const intervals = [
  { value: 'wald', title: 'Wald (quick)' },
  { value: 'profile', title: 'profile likelihood' },
]
const four = (value: number) => fixed(value, 4)
</script>

<template>
  <div class="choices how">
    <v-select
      :model-value="results.limits"
      :items="intervals"
      label="Intervals"
      class="medium"
      @update:model-value="set({ limits: $event })"
    />
    <LevelField class="medium" />
  </div>
  <div class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">Coefficient</th>
          <th scope="col">log odds</th>
          <th scope="col">standard error</th>
          <th scope="col">z</th>
          <th scope="col">p</th>
          <th scope="col">odds ratio</th>
          <th scope="col">its interval</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in found.coefficients" :key="row.label">
          <th scope="row">{{ row.label }}</th>
          <td :title="String(row.log_odds)">{{ four(row.log_odds) }}</td>
          <td :title="String(row.se)">{{ four(row.se) }}</td>
          <td>{{ two(row.z) }}</td>
          <td>{{ pValue(row.p) }}</td>
          <td>{{ ratio(row.odds_ratio) }}</td>
          <td class="quiet">{{ limits(row.ci) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <p class="quiet">
    Conditional log-likelihood {{ two(results.likelihood.log_likelihood) }} ({{
      two(results.likelihood.log_likelihood_null)
    }}
    where every choice is as likely), AIC {{ two(results.likelihood.aic) }}, R²
    {{ three(results.likelihood.mcfadden) }} (McFadden)<template v-if="results.score"
      >; score test χ² {{ statistic(results.score.statistic) }}, df {{ results.score.df }}</template
    >.
  </p>
</template>

<style scoped>
.how {
  margin-bottom: 10px;
}
</style>
