<script setup lang="ts">
/** The association within each stratum, pooled, and whether it is the same everywhere. */
import { computed } from 'vue'

import type { CrosstabResults, FigureSpec } from '@/api/types'
import { count, pValue } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'

const props = defineProps<{
  results: CrosstabResults
  figures: Record<string, FigureSpec>
  title: string
}>()

const mosaics = computed(() =>
  Object.entries(props.figures).filter(([name]) => name.startsWith('mosaic:')),
)
const strata = computed(() =>
  props.results.strata.map((stratum) => ({
    ...stratum,
    by: stratum.table?.event_by_group,
    chi: stratum.table?.chi_square.pearson,
    strength: stratum.table?.association,
  })),
)
const withTable = computed(() => props.results.strata.filter(({ table }) => table).length)
const generalized = computed(() => props.results.pooled?.generalized_cochran_mantel_haenszel)
const tests = computed(() => {
  const found = props.results.pooled
  if (!found) return []
  const of = (
    what: string,
    test: { statistic: number; df: number; p: number } | null | undefined,
  ) => (test ? [{ what, ...test }] : [])
  return [
    ...of(
      'Association within strata (generalised Cochran–Mantel–Haenszel)',
      generalized.value?.general_association,
    ),
    ...of('Mean scores differ', generalized.value?.row_mean_scores),
    ...of('Trend with trend', generalized.value?.correlation),
    ...of(
      'Not the same in every stratum (likelihood ratio, three-way)',
      found.three_way_interaction,
    ),
  ]
})
const ratio = (value: unknown) =>
  value == null ? '—' : value === 'Infinity' ? '∞' : (value as number).toFixed(2)
const limits = (ci: readonly [number, number] | undefined) =>
  ci ? `${ci[0].toFixed(2)} to ${ci[1].toFixed(2)}` : ''
</script>

<template>
  <section class="strata" :aria-label="`Within each ${title}`">
    <h3 class="overline">Within each {{ title }}</h3>
    <div class="side">
      <div class="scroll">
        <table class="plain">
          <thead>
            <tr>
              <th scope="col">{{ title }}</th>
              <th scope="col">counted</th>
              <th scope="col">χ²</th>
              <th scope="col">p</th>
              <th scope="col">V</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="stratum in strata" :key="stratum.label">
              <th scope="row">{{ stratum.label }}</th>
              <td>{{ count(stratum.n) }}</td>
              <template v-if="stratum.chi && stratum.strength">
                <td>{{ stratum.chi.statistic.toFixed(1) }}</td>
                <td>{{ pValue(stratum.chi.p) }}</td>
                <td
                  :title="`${stratum.strength.cramers_v_ci[0].toFixed(2)} to ${stratum.strength.cramers_v_ci[1].toFixed(2)}`"
                >
                  {{ stratum.strength.cramers_v.toFixed(2) }}
                </td>
              </template>
              <td v-else colspan="3" class="left quiet">left out: {{ stratum.left_out }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <FigureView
        v-if="figures.strata"
        :spec="figures.strata"
        label="Strength in every stratum, with its interval, and pooled"
        :name="`Strength within each ${title}`"
      />
    </div>
    <table v-if="results.pooled?.pairs.length" class="plain pooled">
      <thead>
        <tr>
          <th scope="col">Pooled over strata (Mantel–Haenszel)</th>
          <th scope="col">odds ratio</th>
          <th scope="col">crude</th>
          <th scope="col">ratio of shares</th>
          <th scope="col">difference, points</th>
          <th scope="col" title="Cochran–Mantel–Haenszel">test, p</th>
          <th scope="col" title="Breslow–Day with Tarone’s correction">same everywhere? p</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="pair in results.pooled.pairs" :key="pair.value">
          <th scope="row">{{ pair.label }}</th>
          <td>
            <b>{{ ratio(pair.mantel_haenszel_odds_ratio?.estimate) }}</b>{{ ' ' }}
            <small class="quiet">{{ limits(pair.mantel_haenszel_odds_ratio?.ci) }}</small>
          </td>
          <td>{{ ratio(pair.crude_odds_ratio) }}</td>
          <td>
            {{ ratio(pair.mantel_haenszel_risk_ratio?.estimate) }}
            <small class="quiet"> {{ limits(pair.mantel_haenszel_risk_ratio?.ci) }}</small>
          </td>
          <td>
            {{
              pair.mantel_haenszel_risk_difference
                ? (100 * pair.mantel_haenszel_risk_difference.estimate).toFixed(1).replace('-', '−')
                : '—'
            }}
          </td>
          <td>
            {{ pair.cochran_mantel_haenszel ? pValue(pair.cochran_mantel_haenszel.p) : '—' }}
          </td>
          <td>{{ pair.breslow_day_tarone ? pValue(pair.breslow_day_tarone.p) : '—' }}</td>
        </tr>
      </tbody>
    </table>
    <table v-if="tests.length" class="plain pooled">
      <tbody>
        <tr v-for="test in tests" :key="test.what">
          <th scope="row">{{ test.what }}</th>
          <td>χ² {{ test.statistic.toFixed(1) }}</td>
          <td>df {{ test.df }}</td>
          <td>p {{ pValue(test.p) }}</td>
        </tr>
      </tbody>
    </table>
    <div v-if="mosaics.length" class="multiples">
      <FigureView
        v-for="[name, spec] in mosaics"
        :key="name"
        :spec="spec"
        :label="`Mosaic plot within ${spec.title}`"
        :name="`Mosaic, ${spec.title}`"
      />
    </div>
    <p v-if="mosaics.length && mosaics.length < withTable" class="quiet">
      The first {{ mosaics.length }} of {{ withTable }} strata are drawn.
    </p>
  </section>
</template>

<style scoped>
.side {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 28px;
  align-items: flex-start;
}
.scroll {
  overflow-x: auto;
}
.pooled {
  margin-top: 12px;
}
.multiples {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 26px;
  margin-top: 14px;
}
</style>
