<script setup lang="ts">
/** The answer of the Odds model lens: odds ratios, adjusted beside unadjusted, terms and steps. */
import { computed } from 'vue'

import type { Answer, FigureSpec, OddsResults, Question } from '@/api/types'
import { count, pValue } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import AnswerSheet from './AnswerSheet.vue'
import DeeperPanel from './DeeperPanel.vue'
import { limitsOf, ratioOf } from './shareWords'

const props = defineProps<{
  answer: Answer
  results: OddsResults
  figures: Record<string, FigureSpec>
  question: Question
  isOld: boolean
}>()
const emit = defineEmits<{ change: [question: Question] }>()

const model = computed(() => props.results.whole)
const hasOthers = computed(() => model.value.terms.length > 1)
const roles = { vary_with: 'vary with', allowing_for: 'allowing for' }

function setPer(variable: string, text: string) {
  const per = Number(text)
  const changed = (terms: Question['vary_with']) =>
    terms.map((term) => (term.variable === variable ? { ...term, per } : term))
  emit('change', {
    ...props.question,
    vary_with: changed(props.question.vary_with),
    allowing_for: changed(props.question.allowing_for),
  })
}

function perOf(variable: string): number {
  const terms = [...props.question.vary_with, ...props.question.allowing_for]
  return terms.find((term) => term.variable === variable)?.per ?? 1
}
</script>

<template>
  <AnswerSheet :answer="answer" :is-old="isOld">
    <div class="evidence">
      <div class="scroll">
        <table class="plain">
          <thead>
            <tr>
              <th scope="col">Odds of {{ results.event_label }}</th>
              <th scope="col">{{ results.event_label }} of</th>
              <th v-if="hasOthers" scope="col">unadjusted</th>
              <th scope="col">{{ hasOthers ? 'adjusted odds ratio' : 'odds ratio' }}</th>
              <th scope="col">p</th>
            </tr>
          </thead>
          <tbody v-for="term in model.terms" :key="term.variable">
            <tr>
              <th scope="row" class="title">
                {{ term.title }} <small class="quiet">{{ roles[term.role] }}</small>
                <label v-if="term.reference === null" class="per"
                  >per
                  <input
                    type="number"
                    min="0"
                    step="any"
                    :value="perOf(term.variable)"
                    :aria-label="`Units of ${term.title} one step stands for`"
                    @change="setPer(term.variable, ($event.target as HTMLInputElement).value)"
                  />
                </label>
              </th>
              <td></td>
              <td v-if="hasOthers"></td>
              <td></td>
              <td :title="`Likelihood ratio, df ${term.likelihood_ratio.df}`">
                {{ pValue(term.likelihood_ratio.p) }}
              </td>
            </tr>
            <tr v-if="term.reference !== null">
              <th scope="row" class="level">
                {{ term.reference }} <small class="quiet">reference</small>
              </th>
              <td>{{ count(term.reference_events ?? 0) }} of {{ count(term.reference_n ?? 0) }}</td>
              <td v-if="hasOthers" class="quiet">1</td>
              <td class="quiet">1</td>
              <td></td>
            </tr>
            <tr v-for="row in term.rows" :key="row.label">
              <th scope="row" class="level">{{ row.label }}</th>
              <td>
                <template v-if="row.n !== null"
                  >{{ count(row.events ?? 0) }} of {{ count(row.n) }}</template
                >
              </td>
              <td v-if="hasOthers">
                {{ ratioOf(row.unadjusted) }}
                <small class="quiet">{{ limitsOf(row.unadjusted_ci) }}</small>
              </td>
              <td :title="`log odds ${row.log_odds}, standard error ${row.se}`">
                <b>{{ ratioOf(row.odds_ratio) }}</b>{{ ' '
                }}<small class="quiet">{{ limitsOf(row.ci) }}</small>
              </td>
              <td>{{ pValue(row.p) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <FigureView
        :spec="figures.forest!"
        label="Odds ratios with intervals, on a log scale"
        name="Odds ratios"
      />
    </div>
    <template #deeper>
      <DeeperPanel heading="Step by step" hint="what each step gains">
        <table class="plain">
          <thead>
            <tr>
              <th scope="col">Step</th>
              <th scope="col">gain, χ²</th>
              <th scope="col">df</th>
              <th scope="col">p</th>
              <th scope="col">log-likelihood</th>
              <th scope="col">AIC</th>
            </tr>
          </thead>
          <tbody>
            <tr>
              <th scope="row">nothing</th>
              <td colspan="3"></td>
              <td>{{ model.log_likelihood_null.toFixed(2).replace('-', '−') }}</td>
              <td>{{ (2 - 2 * model.log_likelihood_null).toFixed(1) }}</td>
            </tr>
            <tr v-for="step in model.steps" :key="step.step">
              <th scope="row">{{ roles[step.step] }} {{ step.titles.join(', ') }}</th>
              <td>{{ step.gain.statistic.toFixed(1) }}</td>
              <td>{{ step.gain.df }}</td>
              <td>{{ pValue(step.gain.p) }}</td>
              <td>{{ step.log_likelihood.toFixed(2).replace('-', '−') }}</td>
              <td>{{ step.aic.toFixed(1) }}</td>
            </tr>
          </tbody>
        </table>
        <p class="quiet">
          Pseudo-R²: McFadden {{ model.mcfadden.toFixed(3) }}, Cox–Snell
          {{ model.cox_snell.toFixed(3) }}, Nagelkerke {{ model.nagelkerke.toFixed(3) }}, Tjur
          {{ model.tjur.toFixed(3) }}. BIC {{ model.bic.toFixed(1) }}.
          {{ count(model.covariate_patterns) }} distinct patterns.
        </p>
      </DeeperPanel>
      <DeeperPanel heading="Equation" hint="log odds as text">
        <p class="equation">{{ model.equation }}</p>
      </DeeperPanel>
    </template>
  </AnswerSheet>
</template>

<style scoped>
.evidence {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 30px;
  align-items: flex-start;
}
.scroll {
  overflow-x: auto;
}
.title {
  font-weight: 600;
}
.level {
  padding-left: 14px !important;
}
.per {
  font-weight: 400;
  margin-left: 8px;
}
.per input {
  width: 56px;
  font: inherit;
  color: var(--ink);
  background: transparent;
  border: 0;
  border-bottom: 1px solid var(--hairline);
  text-align: right;
}
.equation {
  overflow-wrap: anywhere;
}
</style>
