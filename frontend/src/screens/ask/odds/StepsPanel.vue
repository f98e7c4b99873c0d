<script setup lang="ts">
/** What each step of the model gains; where a new step begins can be set. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import {
  fixed,
  freedom,
  oneDecimal,
  percent,
  pValue,
  statistic,
  three,
  two,
} from '@/design/numbers'
import { useOptions, useResults } from '../useAsking'
import { roles } from '../answer/modelTerms'
import StepBegins from '../answer/StepBegins.vue'

const props = defineProps<{ found: Schemas['StepsPanel'] }>()

const results = useResults<Schemas['OddsResults']>()
const { options, set } = useOptions('odds')
const model = computed(() => results.value.whole)
const likelihood = computed(() => model.value.likelihood)
const begun = computed(() => options.value.new_step_at)
const sign = computed(() => props.found.steps.find(({ test }) => test)?.test?.sign ?? '')
/** No step sorts any better than guessing the commoner answer. */
const onlyGuesses = computed(() =>
  props.found.steps.every(({ accuracy }) => accuracy != null && accuracy <= props.found.baseline),
)
const dfs = ({ df, df2 }: Schemas['NamedTest']) =>
  [df, df2].flatMap((each) => (each == null ? [] : freedom(each))).join(', ')
const one = (value: number | null) => (value === null ? '' : oneDecimal(value))
</script>

<template>
  <div class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">Step</th>
          <th scope="col">gain, {{ sign }}</th>
          <th scope="col">df</th>
          <th scope="col">p</th>
          <template v-if="likelihood">
            <th scope="col">log-likelihood</th>
            <th scope="col">AIC</th>
            <th scope="col">BIC</th>
            <th scope="col" :title="`At a cut-off of ${found.cutoff}`">sorted rightly</th>
            <th scope="col">AUC</th>
          </template>
        </tr>
      </thead>
      <tbody>
        <tr v-if="likelihood">
          <th scope="row">nothing</th>
          <td colspan="3"></td>
          <td>{{ two(likelihood.log_likelihood_null) }}</td>
          <td>{{ oneDecimal(2 - 2 * likelihood.log_likelihood_null) }}</td>
          <td></td>
          <td>{{ percent(found.baseline) }}</td>
          <td>{{ fixed(0.5, 2) }}</td>
        </tr>
        <tr v-for="step in found.steps" :key="step.variables.join()">
          <th scope="row">{{ roles[step.step] }} {{ step.titles.join(', ') }}</th>
          <template v-if="step.test">
            <td>{{ statistic(step.test.statistic!) }}</td>
            <td>{{ dfs(step.test) }}</td>
            <td>{{ pValue(step.test.p) }}</td>
          </template>
          <td v-else colspan="3" class="quiet">too few degrees of freedom</td>
          <template v-if="likelihood">
            <td>{{ two(step.log_likelihood) }}</td>
            <td>{{ one(step.aic) }}</td>
            <td>{{ one(step.bic) }}</td>
            <td>{{ percent(step.accuracy) }}</td>
            <td>{{ two(step.auc) }}</td>
          </template>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-if="onlyGuesses" class="quiet">
    At a cut-off of {{ found.cutoff }} no step sorts more people rightly than guessing the commoner
    answer for everybody does: choose another cut-off under “How well it sorts”.
  </p>
  <StepBegins :terms="model.terms" :begun @begin="(at) => set({ new_step_at: at })" />
  <p v-if="likelihood && likelihood.mcfadden !== null" class="quiet">
    Pseudo-R²: McFadden {{ three(likelihood.mcfadden) }}, Cox–Snell
    {{ three(likelihood.cox_snell) }}, Nagelkerke {{ three(likelihood.nagelkerke) }}, Tjur
    {{ three(likelihood.tjur) }}. Variables enter as you ask; none is chosen by its p.
  </p>
  <p v-else class="quiet">
    Pseudo-R², AIC and BIC need an ordinary likelihood, which
    {{ likelihood ? 'a penalised model' : 'a weighted sample' }} has not.
  </p>
</template>
