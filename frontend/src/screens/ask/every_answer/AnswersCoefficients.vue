<script setup lang="ts">
/** The coefficients of a model of every answer with their errors, and its equation. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { count, fixed, limits, pValue, ratio, three, two } from '@/design/numbers'
import LevelField from '../answer/LevelField.vue'
import { useAsking, useOptions, useResults } from '../useAsking'

defineProps<{ found: Schemas['AnswersCoefficientsPanel'] }>()

const { answer } = useAsking()
const results = useResults<Schemas['EveryAnswerResults']>()
const { options, set } = useOptions('every_answer')
const isWeighted = computed(() => !!answer.value.sample)
const worth = computed(() => results.value.likelihood)
const intervals = [
  { value: 'wald', title: 'Wald (quick)' },
  { value: 'profile', title: 'profile likelihood' },
]
const ways = [
  { value: 'as_recorded', title: 'as the codebook has them' },
  { value: 'in_order', title: 'in order' },
  { value: 'in_no_order', title: 'in no order' },
]
const four = (value: number) => fixed(value, 4)
</script>

<template>
  <div class="choices how">
    <v-select
      :model-value="options.taken"
      :items="ways"
      label="Answers are taken"
      class="wide"
      @update:model-value="set({ taken: $event })"
    />
    <v-select
      v-if="!isWeighted"
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
          <th v-if="!results.is_ordered" scope="col">Answer</th>
          <th scope="col">Coefficient</th>
          <th scope="col">log odds</th>
          <th scope="col">standard error</th>
          <th scope="col">{{ isWeighted ? 't' : 'z' }}</th>
          <th scope="col">p</th>
          <th scope="col">odds ratio</th>
          <th scope="col">its interval</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in found.coefficients" :key="`${row.answer} ${row.label}`">
          <td v-if="!results.is_ordered">{{ row.answer }}</td>
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
  <p class="equation">{{ found.equation }}</p>
  <p v-if="worth" class="quiet">
    Log-likelihood {{ two(worth.log_likelihood) }} ({{ two(worth.log_likelihood_null) }} without any
    variable), AIC {{ two(worth.aic) }}, BIC {{ two(worth.bic) }}; R²
    {{ three(worth.mcfadden) }} (McFadden), {{ three(worth.nagelkerke) }} (Nagelkerke);
    {{ count(results.covariate_patterns) }} distinct patterns.
  </p>
</template>

<style scoped>
.how {
  margin-bottom: 10px;
}
.equation {
  margin: 10px 0;
  overflow-wrap: anywhere;
}
</style>
