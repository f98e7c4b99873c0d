<script setup lang="ts">
/** The same model within each stratum: a line per odds ratio, a column per stratum. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { count, limits, ratio } from '@/design/numbers'
import { useAsking } from '../useAsking'

const props = defineProps<{ results: Schemas['EveryAnswerResults'] }>()
const { within } = useAsking()
const fitted = computed(() => props.results.strata.filter(({ left_out }) => !left_out))
const leftOut = computed(() => props.results.strata.filter(({ left_out }) => left_out))
const lines = computed(() =>
  props.results.terms.flatMap(({ title, rows }) =>
    rows.flatMap((row) =>
      row.ratios.map((each) => ({
        ...each,
        label: `${each.answer ? `${each.answer}, ` : ''}${row.given ?? title}: ${row.label}`,
      })),
    ),
  ),
)
</script>

<template>
  <section class="strata" :aria-label="`Within each ${within}`">
    <h3 class="overline">The same model within each {{ within }}</h3>
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">Odds ratio</th>
            <th scope="col">without regard to {{ within }}</th>
            <th v-for="stratum in fitted" :key="stratum.label" scope="col">
              {{ stratum.label }}<br /><small class="quiet">{{ count(stratum.n) }}</small>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(line, i) in lines" :key="line.label">
            <th scope="row">{{ line.label }}</th>
            <td :title="limits(line.ci)">{{ ratio(line.odds_ratio) }}</td>
            <td v-for="stratum in fitted" :key="stratum.label">
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
    <p class="quiet">Whether they differ between the strata is not tested here.</p>
  </section>
</template>

<style scoped>
small {
  white-space: nowrap;
}
</style>
