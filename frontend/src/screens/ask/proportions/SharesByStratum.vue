<script setup lang="ts">
/** Shares within each stratum, standardised to one population, and pooled comparisons. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { count, limits, points, pValue, ratio } from '@/design/numbers'
import { useAsking } from '../useAsking'
import { underTitle } from '../words'
import StandardWeights from './StandardWeights.vue'

type Stratum = Schemas['StratumShares']
const props = defineProps<{ results: Schemas['ProportionsResults'] }>()

const { titles } = useAsking()
const groups = computed(() => props.results.whole.groups)
const hasTests = computed(() => props.results.strata.some(({ test }) => test))
const cell = (stratum: Stratum, value: string) =>
  stratum.groups.find((group) => group.value === value)
</script>

<template>
  <section class="strata" aria-label="Within strata">
    <h3 class="overline">% {{ results.whole.event_label }} within each stratum</h3>
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th></th>
            <th v-for="group in groups" :key="group.value" scope="col">
              {{ underTitle(group.label, titles.rows) }}
            </th>
            <th v-if="hasTests" scope="col">all alike? p</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="stratum in results.strata" :key="stratum.label">
            <th scope="row">{{ stratum.label }}</th>
            <td
              v-for="group in groups"
              :key="group.value"
              :title="limits(cell(stratum, group.value)?.share_ci, points)"
            >
              <template v-if="cell(stratum, group.value)"
                >{{ points(cell(stratum, group.value)!.share) }}
                <small class="quiet">of {{ count(cell(stratum, group.value)!.n) }}</small></template
              ><span v-else class="quiet">nobody</span>
            </td>
            <td v-if="hasTests" :title="stratum.test?.name">{{ pValue(stratum.test?.p) }}</td>
          </tr>
          <tr v-if="results.standardised.length" class="of-all">
            <th scope="row">standardised</th>
            <td v-for="each in results.standardised" :key="each.label">
              <template v-if="each.share !== null"
                ><b>{{ points(each.share) }}</b>
                <small class="quiet"> {{ limits(each.ci, points) }}</small></template
              ><span v-else class="quiet" title="A stratum that counts is empty in this group"
                >—</span
              >
            </td>
            <td v-if="hasTests"></td>
          </tr>
        </tbody>
      </table>
    </div>
    <StandardWeights v-if="results.standardised.length" :strata="results.strata" />
    <div v-if="results.pooled.length" class="scroll">
      <table class="plain pooled">
        <thead>
          <tr>
            <th scope="col">Pooled over strata (Mantel–Haenszel)</th>
            <th scope="col">difference, points</th>
            <th scope="col">ratio of shares</th>
            <th scope="col">odds ratio</th>
            <th scope="col">crude odds ratio</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="pair in results.pooled" :key="pair.value">
            <th scope="row">{{ pair.label }}</th>
            <td>
              {{ points(pair.mantel_haenszel_risk_difference?.estimate) }}
              <small class="quiet">{{
                limits(pair.mantel_haenszel_risk_difference?.sato.ci, points)
              }}</small>
            </td>
            <td>
              {{ ratio(pair.mantel_haenszel_risk_ratio?.estimate) }}
              <small class="quiet">{{ limits(pair.mantel_haenszel_risk_ratio?.ci) }}</small>
            </td>
            <td>
              {{ ratio(pair.mantel_haenszel_odds_ratio?.estimate) }}
              <small class="quiet">{{ limits(pair.mantel_haenszel_odds_ratio?.ci) }}</small>
            </td>
            <td>{{ ratio(pair.crude_odds_ratio) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.pooled {
  margin-top: 12px;
}
</style>
