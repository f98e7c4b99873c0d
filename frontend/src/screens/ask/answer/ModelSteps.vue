<script setup lang="ts">
/** What each step of a model gains; where a new step begins can be set. */
import { computed } from 'vue'

import type { Options, Schemas } from '@/api/types'
import { freedom, oneDecimal, pValue, statistic, three, two } from '@/design/numbers'
import { useAsking } from '../useAsking'
import { roles } from './modelTerms'
import StepBegins from './StepBegins.vue'

interface Steppable {
  terms: readonly { term: string; title: string; role: 'vary_with' | 'allowing_for' }[]
}

const props = defineProps<{ found: Schemas['ModelSteps'] }>()
const { answer, question, setOptions } = useAsking()
/** Of any model that goes step by step, under its own name. */
const optionsOf = (options: Options) =>
  options[answer.value.lens as keyof Options] as unknown as { new_step_at: string[] }
const begun = computed(() => optionsOf(answer.value.question.options).new_step_at)
const terms = computed(() => (answer.value.results as unknown as Steppable).terms)
const sign = computed(() => props.found.steps.find(({ test }) => test)?.test?.sign ?? '')
const dfs = ({ df, df2 }: Schemas['NamedTest']) =>
  [df, df2].flatMap((each) => (each == null ? [] : freedom(each))).join(', ')

function begin(at: string[]) {
  const own = { ...optionsOf(question.value.options), new_step_at: at }
  setOptions({ [answer.value.lens]: own } as Partial<Options>)
}
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
          <template v-if="found.null !== null">
            <th scope="col">log-likelihood</th>
            <th scope="col">AIC</th>
            <th scope="col">R² (McFadden)</th>
          </template>
        </tr>
      </thead>
      <tbody>
        <tr v-if="found.null !== null">
          <th scope="row">nothing</th>
          <td colspan="3"></td>
          <td>{{ two(found.null) }}</td>
          <td colspan="2"></td>
        </tr>
        <tr v-for="step in found.steps" :key="step.variables.join()">
          <th scope="row">{{ roles[step.step] }} {{ step.titles.join(', ') }}</th>
          <template v-if="step.test">
            <td>{{ statistic(step.test.statistic!) }}</td>
            <td>{{ dfs(step.test) }}</td>
            <td>{{ pValue(step.test.p) }}</td>
          </template>
          <td v-else colspan="3" class="quiet">too few degrees of freedom</td>
          <template v-if="found.null !== null">
            <td>{{ two(step.log_likelihood) }}</td>
            <td>{{ step.aic === null ? '' : oneDecimal(step.aic) }}</td>
            <td>{{ three(step.mcfadden) }}</td>
          </template>
        </tr>
      </tbody>
    </table>
  </div>
  <StepBegins :terms :begun @begin="begin" />
  <p class="quiet">Variables enter as you ask; none is chosen by its p.</p>
</template>
