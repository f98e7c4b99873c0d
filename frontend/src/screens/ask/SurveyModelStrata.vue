<script setup lang="ts">
/** The same weighted model within each stratum, everybody else staying in the design. */
import { computed } from 'vue'

import type { Survey } from '@/api/types'
import { count, oneDecimal, pValue } from '@/design/numbers'
import { limitsOf, ratioOf } from './shareWords'

const props = defineProps<{
  model: NonNullable<Survey['model']>
  strata: NonNullable<Survey['model_strata']>
  title: string
}>()

const fitted = computed(() => props.strata.strata.filter(({ left_out }) => !left_out))
const leftOut = computed(() => props.strata.strata.filter(({ left_out }) => left_out))
</script>

<template>
  <section class="strata" :aria-label="`Within each ${title}`">
    <h3 class="overline">The same model within each {{ title }}, weighted</h3>
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">Odds ratio</th>
            <th scope="col">together</th>
            <th v-for="stratum in fitted" :key="stratum.label" scope="col">
              {{ stratum.label }}<br /><small class="quiet">n {{ count(stratum.n) }}</small>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, i) in model.rows" :key="`${row.term} ${row.given} ${row.label}`">
            <th scope="row">{{ row.given ?? row.title }}: {{ row.label }}</th>
            <td :title="limitsOf(row.ci)">
              <b>{{ ratioOf(row.odds_ratio) }}</b>
            </td>
            <td
              v-for="stratum in fitted"
              :key="stratum.label"
              :title="stratum.ratios[i] ? `p ${pValue(stratum.ratios[i]!.p)}` : ''"
            >
              {{ ratioOf(stratum.ratios[i]?.odds_ratio) }}
              <small class="quiet">{{ limitsOf(stratum.ratios[i]?.ci) }}</small>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-for="stratum in leftOut" :key="stratum.label" class="quiet">
      {{ stratum.label }} is left out: {{ stratum.left_out }}
    </p>
    <p v-if="strata.same" class="quiet">
      Are the coefficients the same everywhere? Adjusted Wald F {{ strata.same.f.toFixed(2) }}, df
      {{ oneDecimal(strata.same.df1) }}, {{ oneDecimal(strata.same.df2) }}, p
      {{ pValue(strata.same.p) }}.
    </p>
    <p v-else class="quiet">Not tested for being the same: {{ strata.reason }}</p>
  </section>
</template>

<style scoped>
.strata {
  margin-top: 14px;
  padding-top: 12px;
  border-top: 1px solid var(--hairline);
}
.scroll {
  overflow-x: auto;
}
small {
  white-space: nowrap;
}
</style>
