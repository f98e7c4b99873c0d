<script setup lang="ts">
/** How well the model fits: predicted against observed events, and whether numbers bend. */
import { computed } from 'vue'

import type { FigureSpec, OddsResults } from '@/api/types'
import { count, oneDecimal, pValue } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'

const props = defineProps<{ results: OddsResults; figures: Record<string, FigureSpec> }>()

const model = computed(() => props.results.whole)
const test = computed(() => model.value.hosmer_lemeshow)
const isMisfit = computed(() => test.value.p !== null && test.value.p < 0.05)
/** With a pattern for nearly everybody the tests over patterns mean nothing. */
const patternsMean = computed(() => model.value.n >= 5 * model.value.covariate_patterns)
</script>

<template>
  <p v-if="test.p !== null">
    Hosmer–Lemeshow χ² {{ test.statistic.toFixed(1) }}, df {{ test.df }}, p {{ pValue(test.p) }}:
    <b>{{ isMisfit ? 'predicted and observed events differ' : 'no misfit was seen' }}</b>. A small p
    means misfit.
  </p>
  <p v-else class="quiet">Fewer than three groups of predictions: nothing to test.</p>
  <div class="side">
    <FigureView
      :spec="figures.calibration!"
      label="Observed share against predicted, a point per tenth"
      name="Calibration"
    />
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">Predicted, %</th>
            <th scope="col">counted</th>
            <th scope="col">events</th>
            <th scope="col">expected</th>
            <th scope="col">none</th>
            <th scope="col">expected</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="group in test.table" :key="group.group">
            <th scope="row">
              {{ oneDecimal(100 * group.lowest_fitted) }} to
              {{ oneDecimal(100 * group.highest_fitted) }}
            </th>
            <td>{{ count(group.n) }}</td>
            <td>{{ count(group.observed_events) }}</td>
            <td>{{ group.expected_events.toFixed(1) }}</td>
            <td>{{ count(group.observed_non_events) }}</td>
            <td>{{ group.expected_non_events.toFixed(1) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
  <p class="quiet">
    Brier score {{ model.brier.toFixed(3) }} (0 is perfect).
    <template v-if="model.pearson_goodness_of_fit && model.deviance_goodness_of_fit">
      Over {{ count(model.covariate_patterns) }} distinct patterns: Pearson χ²
      {{ model.pearson_goodness_of_fit.statistic.toFixed(1) }}, p
      {{ pValue(model.pearson_goodness_of_fit.p) }}; deviance
      {{ model.deviance_goodness_of_fit.statistic.toFixed(1) }}, p
      {{ pValue(model.deviance_goodness_of_fit.p) }}, df {{ model.pearson_goodness_of_fit.df }}.
      <b v-if="!patternsMean"
        >These two mean little here: most patterns hold hardly anybody.</b
      ></template
    >
  </p>
  <template v-for="each in model.linearity" :key="each.variable">
    <h4 class="overline">Does the log odds bend along {{ each.title }}?</h4>
    <div class="side">
      <FigureView
        v-if="figures[`linearity:${each.variable}`]"
        :spec="figures[`linearity:${each.variable}`]!"
        :label="`Log odds along ${each.title}, straight (dashed) and bending with its band`"
        :name="`Bending of ${each.title}`"
      />
      <p>
        <template v-if="each.bend">
          Spline against straight line: χ² {{ each.bend.statistic.toFixed(1) }}, df
          {{ each.bend.df }}, p {{ pValue(each.bend.p) }}.<br />
        </template>
        <template v-if="each.box_tidwell">
          Box–Tidwell: χ² {{ each.box_tidwell.statistic.toFixed(1) }}, df 1, p
          {{ pValue(each.box_tidwell.p) }}.
        </template>
      </p>
    </div>
  </template>
</template>

<style scoped>
.side {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 28px;
  align-items: flex-start;
  margin: 10px 0;
}
.scroll {
  overflow-x: auto;
}
</style>
