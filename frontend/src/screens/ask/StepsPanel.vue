<script setup lang="ts">
/** What each step of the model gains; where a new step begins can be set. */
import { computed } from 'vue'

import type { OddsResults, Question } from '@/api/types'
import { percent, pValue } from '@/design/numbers'
import { withOptions } from './options'

const props = defineProps<{ results: OddsResults; question: Question }>()
const emit = defineEmits<{ change: [question: Question] }>()

const model = computed(() => props.results.whole)
const roles = { vary_with: 'vary with', allowing_for: 'allowing for' }
const begun = computed(() => (props.question.options.new_step_at as string[] | undefined) ?? [])
const fixed = (value: number, decimals: number) => value.toFixed(decimals).replace('-', '−')
/** Terms that could begin a step of their own: all but the first of each slot. */
const splits = computed(() =>
  model.value.terms
    .filter((term, i, all) => i && all[i - 1]!.role === term.role)
    .map(({ term, title }) => ({ term, title })),
)

function turn(term: string, isOn: boolean) {
  const rest = begun.value.filter((each) => each !== term)
  const next = isOn ? [...rest, term] : rest
  emit('change', withOptions(props.question, { new_step_at: next.length ? next : undefined }))
}

function oneByOne() {
  const next = splits.value.map(({ term }) => term)
  emit('change', withOptions(props.question, { new_step_at: next }))
}
</script>

<template>
  <div class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">Step</th>
          <th scope="col">gain, χ²</th>
          <th scope="col">df</th>
          <th scope="col">p</th>
          <th scope="col">log-likelihood</th>
          <th scope="col">AIC</th>
          <th scope="col">BIC</th>
          <th scope="col" title="At the cut-off of the panel below">sorted rightly</th>
          <th scope="col">AUC</th>
        </tr>
      </thead>
      <tbody>
        <tr>
          <th scope="row">nothing</th>
          <td colspan="3"></td>
          <td>{{ fixed(model.log_likelihood_null, 2) }}</td>
          <td>{{ fixed(2 - 2 * model.log_likelihood_null, 1) }}</td>
          <td></td>
          <td>{{ percent(model.classification[0]!.baseline_accuracy) }}</td>
          <td>0.50</td>
        </tr>
        <tr v-for="step in model.steps" :key="step.variables.join()">
          <th scope="row">{{ roles[step.step] }} {{ step.titles.join(', ') }}</th>
          <td>{{ fixed(step.gain.statistic, 1) }}</td>
          <td>{{ step.gain.df }}</td>
          <td>{{ pValue(step.gain.p) }}</td>
          <td>{{ fixed(step.log_likelihood, 2) }}</td>
          <td>{{ fixed(step.aic, 1) }}</td>
          <td>{{ fixed(step.bic, 1) }}</td>
          <td>{{ percent(step.sorting.accuracy) }}</td>
          <td>{{ step.sorting.auc.toFixed(2) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-if="splits.length" class="splits">
    A new step begins at
    <label v-for="each in splits" :key="each.term">
      <input
        type="checkbox"
        :checked="begun.includes(each.term)"
        @change="turn(each.term, ($event.target as HTMLInputElement).checked)"
      />
      {{ each.title }}
    </label>
    <button class="act" @click="oneByOne">One at a time</button>
  </p>
  <p v-if="model.mcfadden !== null" class="quiet">
    Pseudo-R²: McFadden {{ model.mcfadden!.toFixed(3) }}, Cox–Snell
    {{ model.cox_snell!.toFixed(3) }}, Nagelkerke {{ model.nagelkerke!.toFixed(3) }}, Tjur
    {{ model.tjur.toFixed(3) }}. Variables enter as you ask; none is chosen by its p.
  </p>
  <p v-else class="quiet">
    Pseudo-R², AIC and BIC need an ordinary likelihood; this model is penalised.
  </p>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
.splits {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  margin: 8px 0;
  font-size: 0.93rem;
}
</style>
