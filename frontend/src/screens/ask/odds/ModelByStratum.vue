<script setup lang="ts">
/** The same model within each stratum: a line per odds ratio, a column per stratum. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { count, freedom, limits, pEquals, ratio, statistic } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import { useAsking } from '../useAsking'
import { rowsOf } from './terms'

const props = defineProps<{ results: Schemas['OddsResults'] }>()

const { figures, within } = useAsking()
const fitted = computed(() => props.results.strata.filter(({ left_out }) => !left_out))
const leftOut = computed(() => props.results.strata.filter(({ left_out }) => left_out))
/** With an intercept for each stratum. */
const common = computed(() => props.results.common?.ratios ?? [])
const pOf = (found: Schemas['StratumRatio'] | null | undefined) =>
  found?.p == null ? '' : pEquals(found.p)
const rows = computed(() => rowsOf(props.results.whole.terms))
/** Are the coefficients the same everywhere: the test, or why there is none. */
const same = computed(() => {
  const { test, reason } = props.results.same ?? {}
  if (!test) return reason ? `Not tested for being the same: ${reason}` : ''
  const dfs = [test.df, test.df2].flatMap((df) => (df == null ? [] : freedom(df))).join(', ')
  const told = `${test.sign} ${statistic(test.statistic!)}, df ${dfs}, ${pEquals(test.p)}`
  return `Are the coefficients the same everywhere? ${test.name}: ${told}.`
})
</script>

<template>
  <section class="strata" :aria-label="`Within each ${within}`">
    <h3 class="overline">The same model within each {{ within }}</h3>
    <FigureView
      v-if="figures.strata"
      :spec="figures.strata"
      label="The leading odds ratio in every stratum, common to all, and without regard to them"
      :name="`Odds ratio within each ${within}`"
    />
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">Odds ratio</th>
            <th scope="col">without regard to {{ within }}</th>
            <th v-if="common.length" scope="col">common to all</th>
            <th v-for="stratum in fitted" :key="stratum.label" scope="col">
              {{ stratum.label }}<br /><small class="quiet"
                >{{ count(stratum.events) }} of {{ count(stratum.n) }}</small
              >
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, i) in rows" :key="i">
            <th scope="row">{{ row.of }}: {{ row.label }}</th>
            <td :title="limits(row.ci)">
              {{ ratio(row.odds_ratio) }}
            </td>
            <td v-if="common.length" :title="pOf(common[i])">
              <b>{{ ratio(common[i]?.odds_ratio) }}</b>
              <small class="quiet">{{ limits(common[i]?.ci) }}</small>
            </td>
            <td v-for="stratum in fitted" :key="stratum.label" :title="pOf(stratum.ratios[i])">
              {{ ratio(stratum.ratios[i]?.odds_ratio) }}
              <small class="quiet">{{ limits(stratum.ratios[i]?.ci) }}</small>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-for="stratum in leftOut" :key="stratum.label" class="quiet">
      {{ stratum.label }} is left out: {{ stratum.left_out }}
    </p>
    <p v-if="same" class="quiet">{{ same }}</p>
  </section>
</template>

<style scoped>
small {
  white-space: nowrap;
}
</style>
