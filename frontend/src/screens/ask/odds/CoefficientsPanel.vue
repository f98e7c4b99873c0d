<script setup lang="ts">
/** The coefficients of a model with their errors, and its equation; how it is estimated. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { fixed, limits, pValue, ratio, two } from '@/design/numbers'
import LevelField from '../answer/LevelField.vue'
import { useAsking, useOptions, useResults } from '../useAsking'

defineProps<{ found: Schemas['CoefficientsPanel'] }>()

const { answer } = useAsking()
const results = useResults<Schemas['OddsResults']>()
const { options, set } = useOptions('odds')
const isWeighted = computed(() => !!answer.value.sample)
const methods = [
  { value: 'maximum_likelihood', title: 'maximum likelihood' },
  { value: 'firth', title: 'Firth’s penalised likelihood' },
]
const intervals = [
  { value: 'wald', title: 'Wald (quick)' },
  { value: 'profile', title: 'profile likelihood' },
]
const four = (value: number) => fixed(value, 4)
</script>

<template>
  <div class="choices how">
    <template v-if="!isWeighted">
      <v-select
        :model-value="options.method"
        :items="methods"
        label="Estimated by"
        class="wide"
        @update:model-value="set({ method: $event })"
      />
      <v-select
        :model-value="results.whole.limits"
        :items="intervals"
        :disabled="results.whole.method === 'firth'"
        label="Intervals"
        class="medium"
        @update:model-value="set({ limits: $event })"
      />
    </template>
    <LevelField class="medium" />
  </div>
  <div class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">Coefficient</th>
          <th scope="col">log odds</th>
          <th scope="col">standard error</th>
          <th scope="col">{{ isWeighted ? 't' : 'z' }}</th>
          <th scope="col">p</th>
          <th scope="col">odds ratio</th>
          <th scope="col">its interval</th>
          <th v-if="isWeighted" scope="col">each row once</th>
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
          <td v-if="isWeighted" class="quiet">{{ ratio(row.unweighted_odds_ratio) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <p class="equation">{{ found.equation }}</p>
  <div v-if="found.inflation.length > 1" class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">How much the others widen its limits</th>
          <th scope="col" title="Generalised variance inflation, to the power 1 / (2 df)">times</th>
          <th scope="col">GVIF</th>
          <th scope="col">GVIF of its columns</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="each in found.inflation" :key="each.term">
          <th scope="row">{{ each.title }}</th>
          <td>{{ two(each.gvif_adjusted) }}</td>
          <td>{{ two(each.gvif) }}</td>
          <td>{{ two(each.gvif_of_columns) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
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
