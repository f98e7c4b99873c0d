<script setup lang="ts">
/** Observed against predicted shares in groups of predicted probability, and what each step adds. */
import { computed } from 'vue'

import type { FigureSpec, SurveyModel } from '@/api/types'
import { count, oneDecimal, percent, pValue } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'

const props = defineProps<{ model: SurveyModel; figures: Record<string, FigureSpec> }>()

const isMisfit = computed(() => (props.model.fit?.test.p ?? 1) < 0.05)
</script>

<template>
  <template v-if="model.steps.length">
    <h3 class="overline">Step by step</h3>
    <table class="plain">
      <tbody>
        <tr v-for="(step, i) in model.steps" :key="i">
          <th scope="row">{{ i + 1 }}. {{ step.titles.join(', ') }}</th>
          <td v-if="step.wald">
            adjusted Wald F {{ step.wald.adjusted_f.toFixed(2) }}, df {{ step.wald.adjusted_df1 }},
            {{ step.wald.adjusted_df2 }}
          </td>
          <td v-else>too few clusters for so many coefficients</td>
          <td>{{ step.wald ? `p ${pValue(step.wald.adjusted_p)}` : '' }}</td>
        </tr>
      </tbody>
    </table>
  </template>
  <template v-if="model.fit">
    <h3 class="overline">Observed against predicted</h3>
    <p>
      F {{ model.fit.test.f.toFixed(2) }}, df {{ oneDecimal(model.fit.test.df1) }},
      {{ oneDecimal(model.fit.test.df2) }}, p {{ pValue(model.fit.test.p) }}:
      <b>{{ isMisfit ? 'predicted and observed shares differ' : 'no misfit was seen' }}</b>. A small
      p means misfit.
    </p>
    <div class="side">
      <FigureView
        v-if="figures.calibration"
        :spec="figures.calibration"
        label="Observed share against predicted, a point per group, weighted"
        name="Calibration, weighted"
      />
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">Group by predicted probability</th>
            <th scope="col">n, unweighted</th>
            <th scope="col">observed, weighted</th>
            <th scope="col">predicted</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(group, i) in model.fit.groups" :key="i">
            <th scope="row">{{ i + 1 }}</th>
            <td>{{ count(group.n) }}</td>
            <td>{{ percent(group.observed) }}</td>
            <td>{{ percent(group.predicted) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="quiet">
      Mean residuals in groups of about equal weight, tested together with the errors of the design.
    </p>
  </template>
  <p v-else class="quiet">
    No test of the fit: it needs three groups of predicted probability and enough clusters.
  </p>
</template>

<style scoped>
h3:not(:first-child) {
  margin-top: 14px;
}
.side {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 30px;
  align-items: flex-start;
}
</style>
