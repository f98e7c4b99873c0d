<script setup lang="ts">
/** How well the model fits: predicted against observed events, and whether numbers bend. */
import type { Figures, Schemas } from '@/api/types'
import { count, freedom, oneDecimal, pEquals, pValue, statistic, three } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import { useAsking } from '../useAsking'

defineProps<{ found: Schemas['FitPanel']; figures: Figures }>()

const { answer } = useAsking()
const dfs = ({ df, df2 }: Schemas['NamedTest']) =>
  [df, df2].flatMap((each) => (each == null ? [] : freedom(each))).join(', ')
</script>

<template>
  <p v-if="found.test">
    {{ found.test.name }}: {{ found.test.sign }} {{ statistic(found.test.statistic!) }}, df
    {{ dfs(found.test) }}, {{ pEquals(found.test.p) }}.
    <b>{{ found.is_misfit ? 'Predicted and observed events differ.' : 'No misfit was seen.' }}</b>
    A small p means misfit.
  </p>
  <p v-else class="quiet">{{ found.no_test }}</p>
  <div class="side">
    <FigureView
      v-if="figures.calibration"
      :spec="figures.calibration"
      label="Observed share against predicted, a point per group"
      name="Calibration"
    />
    <div v-if="found.groups.length" class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">Group by prediction</th>
            <th scope="col">{{ answer.sample ? 'sampled' : 'counted' }}</th>
            <th scope="col">predicted, %</th>
            <th scope="col">observed, %</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(group, i) in found.groups" :key="i">
            <th scope="row">{{ i + 1 }}</th>
            <td>{{ count(group.n) }}</td>
            <td>{{ oneDecimal(100 * group.predicted) }}</td>
            <td>{{ oneDecimal(100 * group.observed) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
  <p v-if="found.brier !== null" class="quiet">
    Brier score {{ three(found.brier) }} (0 is perfect).
    <template v-if="found.pearson_goodness_of_fit && found.deviance_goodness_of_fit">
      Over {{ count(found.covariate_patterns) }} distinct patterns: Pearson χ²
      {{ statistic(found.pearson_goodness_of_fit.statistic) }}, p
      {{ pValue(found.pearson_goodness_of_fit.p) }}; deviance
      {{ statistic(found.deviance_goodness_of_fit.statistic) }}, p
      {{ pValue(found.deviance_goodness_of_fit.p) }}, df {{ found.pearson_goodness_of_fit.df }}.
      <b v-if="!found.mean_something"
        >These two mean little here: most patterns hold hardly anybody.</b
      ></template
    >
  </p>
  <template v-for="each in found.linearity" :key="each.variable">
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
          Spline against straight line: χ² {{ statistic(each.bend.statistic) }}, df
          {{ each.bend.df }}, {{ pEquals(each.bend.p) }}.<br />
        </template>
        <template v-if="each.box_tidwell">
          Box–Tidwell: χ² {{ statistic(each.box_tidwell.statistic) }}, df 1,
          {{ pEquals(each.box_tidwell.p) }}.
        </template>
      </p>
    </div>
  </template>
</template>
