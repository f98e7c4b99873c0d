<script setup lang="ts">
/** The same model within each stratum, side by side. */
import { computed } from 'vue'

import type { FigureSpec, OddsResults } from '@/api/types'
import { count, pValue } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import { limitsOf, ratioOf } from './shareWords'

const props = defineProps<{
  results: OddsResults
  figures: Record<string, FigureSpec>
  title: string
}>()

const rows = computed(() =>
  props.results.whole.terms.flatMap((term) =>
    term.rows.map((row) => ({
      ...row,
      name: `${row.given ?? term.title}: ${row.label}`,
    })),
  ),
)
const fitted = computed(() => props.results.strata.filter(({ left_out }) => !left_out))
const leftOut = computed(() => props.results.strata.filter(({ left_out }) => left_out))
const test = computed(() => props.results.pooled?.homogeneity)
</script>

<template>
  <section class="strata" :aria-label="`Within each ${title}`">
    <h3 class="overline">The same model within each {{ title }}</h3>
    <FigureView
      v-if="figures.strata"
      :spec="figures.strata"
      label="The leading odds ratio in every stratum and together"
      :name="`Odds ratio within each ${title}`"
    />
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">Odds ratio</th>
            <th scope="col">together</th>
            <th v-for="stratum in fitted" :key="stratum.label" scope="col">
              {{ stratum.label }}<br /><small class="quiet"
                >{{ count(stratum.events) }} of {{ count(stratum.n) }}</small
              >
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, i) in rows" :key="row.name">
            <th scope="row">{{ row.name }}</th>
            <td :title="limitsOf(row.ci)">
              <b>{{ ratioOf(row.odds_ratio) }}</b>
            </td>
            <td
              v-for="stratum in fitted"
              :key="stratum.label"
              :title="limitsOf(stratum.rows[i]?.ci)"
            >
              {{ ratioOf(stratum.rows[i]?.odds_ratio) }}
              <small class="quiet">{{ limitsOf(stratum.rows[i]?.ci) }}</small>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-for="stratum in leftOut" :key="stratum.label" class="quiet">
      {{ stratum.label }} is left out: {{ stratum.left_out }}
    </p>
    <p v-if="test" class="quiet">
      Are the coefficients the same everywhere? Likelihood ratio χ²
      {{ test.statistic.toFixed(1) }}, df {{ test.df }}, p {{ pValue(test.p) }}.
    </p>
    <p v-else class="quiet">Not tested for being the same: {{ results.pooled?.reason }}</p>
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
</style>
