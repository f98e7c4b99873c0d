<script setup lang="ts">
/** The same model within each stratum, each row counted once, with its picture. */
import { computed } from 'vue'

import type { FigureSpec, OddsResults } from '@/api/types'
import { count, pValue } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import StrataOfModel from './StrataOfModel.vue'
import { rowsOf } from './terms'

const props = defineProps<{
  results: OddsResults
  figures: Record<string, FigureSpec>
  title: string
}>()

const fitted = computed(() => props.results.strata.filter(({ left_out }) => !left_out))
const rows = computed(() =>
  rowsOf(props.results.whole.terms).map((row, i) => ({
    name: `${row.of}: ${row.label}`,
    together: { ratio: row.odds_ratio, ci: row.ci },
    within: fitted.value.map(({ rows }) => ({ ratio: rows[i]?.odds_ratio, ci: rows[i]?.ci })),
  })),
)
const same = computed(() => {
  const test = props.results.pooled?.homogeneity
  if (!test) return `Not tested for being the same: ${props.results.pooled?.reason}`
  const chi = `χ² ${test.statistic.toFixed(1)}, df ${test.df}, p ${pValue(test.p)}`
  return `Are the coefficients the same everywhere? Likelihood ratio ${chi}.`
})
</script>

<template>
  <StrataOfModel
    :title="title"
    :heading="`The same model within each ${title}`"
    :rows="rows"
    :strata="
      fitted.map(({ label, events, n }) => ({
        label,
        people: `${count(events)} of ${count(n)}`,
      }))
    "
    :left-out="results.strata.filter(({ left_out }) => left_out)"
    :same="same"
  >
    <FigureView
      v-if="figures.strata"
      :spec="figures.strata"
      label="The leading odds ratio in every stratum and together"
      :name="`Odds ratio within each ${title}`"
    />
  </StrataOfModel>
</template>
