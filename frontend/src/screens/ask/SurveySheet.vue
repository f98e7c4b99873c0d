<script setup lang="ts">
/** An answer that respects the design of the sample, the one without it beside every number. */
import { computed } from 'vue'

import type { Answer, Entry, FigureSpec, Question, Survey } from '@/api/types'
import { count, oneDecimal, percent, pValue } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import AnswerSheet from './AnswerSheet.vue'
import DeeperPanel from './DeeperPanel.vue'
import SurveyCells from './SurveyCells.vue'
import SurveyModelTable from './SurveyModelTable.vue'
import SurveyStrata from './SurveyStrata.vue'
import { limitsOf, pointsOf, ratioOf } from './shareWords'
import { titlesOf } from './words'

const props = defineProps<{
  answer: Answer
  survey: Survey
  figures: Record<string, FigureSpec>
  question: Question
  codebook: Entry[]
  isOld: boolean
}>()
const emit = defineEmits<{ change: [question: Question] }>()

const design = computed(() => props.survey.design)
const comparisonOf = (value: string) =>
  props.survey.comparisons.find((each) => each.value === value)
const within = computed(() => titlesOf(props.codebook, props.question.within))
/** The same question with the weights but without strata and clusters. */
const weightsOnly = computed<Question | undefined>(() => {
  const counting = props.question.counted_by
  if (counting.kind !== 'design' || !(counting.strata || counting.clusters)) return undefined
  const { weights } = counting
  return {
    ...props.question,
    counted_by: { kind: 'design', weights, strata: null, clusters: null },
  }
})
const hasComparisons = computed(() => props.survey.comparisons.length > 0)
const tests = computed(() =>
  [
    { what: 'Rao–Scott, second order', test: props.survey.table?.rao_scott_second_order },
    { what: 'Rao–Scott, first order', test: props.survey.table?.rao_scott_first_order },
    { what: 'Wald, adjusted', test: props.survey.table?.wald },
    { what: 'Against the stated shares, Rao–Scott', test: props.survey.goodness_of_fit },
  ].flatMap(({ what, test }) => (test ? [{ what, test }] : [])),
)
</script>

<template>
  <AnswerSheet :answer="answer" :is-old="isOld">
    <p class="quiet sample" aria-label="The sample">
      {{ count(design.rows) }} rows with a weight · {{ count(design.clusters) }} clusters ·
      {{ count(design.strata) }} {{ design.strata === 1 ? 'stratum' : 'strata' }} · weights add up
      to {{ count(design.population) }} ·
      <button class="act" @click="emit('change', { ...question, counted_by: { kind: 'each' } })">
        without the design
      </button>
      <template v-if="weightsOnly">
        ·
        <button class="act" @click="emit('change', weightsOnly)">weights only</button>
      </template>
    </p>
    <div v-if="survey.shares.length" class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">Group</th>
            <th scope="col">events of n</th>
            <th scope="col">unweighted</th>
            <th scope="col">weighted share</th>
            <th scope="col" title="Design effect: variance against a simple random sample">
              design effect
            </th>
            <template v-if="hasComparisons">
              <th scope="col">difference, points</th>
              <th scope="col">odds ratio</th>
              <th scope="col">p</th>
            </template>
          </tr>
        </thead>
        <tbody>
          <tr v-for="share in survey.shares" :key="share.value">
            <th scope="row">
              {{ share.label }}
              <small v-if="hasComparisons && !comparisonOf(share.value)" class="quiet"
                >reference</small
              >
            </th>
            <td>{{ count(share.events) }} of {{ count(share.n) }}</td>
            <td class="quiet">{{ percent(share.unweighted) }}</td>
            <td :title="`standard error ${share.se}`">
              <b>{{ percent(share.estimate) }}</b>{{ ' '
              }}<small class="quiet">{{ limitsOf(share.ci, 100, 1) }}</small>
            </td>
            <td>{{ share.deff === null ? '—' : share.deff.toFixed(2) }}</td>
            <template v-if="hasComparisons">
              <td>
                <template v-if="comparisonOf(share.value)">
                  {{ pointsOf(comparisonOf(share.value)!.risk_difference.estimate) }}
                  <small class="quiet">{{
                    limitsOf(comparisonOf(share.value)!.risk_difference.ci, 100, 1)
                  }}</small>
                </template>
              </td>
              <td>
                <template v-if="comparisonOf(share.value)?.odds_ratio">
                  {{ ratioOf(comparisonOf(share.value)!.odds_ratio!.estimate) }}
                  <small class="quiet">{{
                    limitsOf(comparisonOf(share.value)!.odds_ratio!.ci)
                  }}</small>
                </template>
              </td>
              <td>
                <template v-if="comparisonOf(share.value)">{{
                  pValue(comparisonOf(share.value)!.risk_difference.p)
                }}</template>
              </td>
            </template>
          </tr>
        </tbody>
      </table>
    </div>
    <FigureView
      v-if="figures.weighted"
      :spec="figures.weighted"
      label="Weighted shares with intervals; the unweighted pale"
      name="Weighted shares"
    />
    <p v-if="survey.mean">
      Weighted mean <b>{{ oneDecimal(survey.mean.estimate) }}</b> ({{
        limitsOf(survey.mean.ci, 1, 1)
      }}); unweighted {{ oneDecimal(survey.mean.unweighted) }}.
    </p>
    <SurveyCells v-if="survey.table" :table="survey.table" />
    <SurveyModelTable v-if="survey.model" :model="survey.model" />
    <table v-if="tests.length" class="plain tests">
      <tbody>
        <tr v-for="{ what, test } in tests" :key="what">
          <th scope="row">{{ what }}</th>
          <td>F {{ test.f.toFixed(2) }}</td>
          <td>df {{ oneDecimal(test.df1) }}, {{ oneDecimal(test.df2) }}</td>
          <td>p {{ pValue(test.p) }}</td>
        </tr>
      </tbody>
    </table>
    <SurveyStrata v-if="survey.strata.length" :survey="survey" :title="within" />
    <template #deeper>
      <DeeperPanel heading="What a design leaves out" hint="and what to use instead">
        <ul class="left-out">
          <li v-for="each in survey.unavailable" :key="each.quantity">{{ each.reason }}</li>
        </ul>
      </DeeperPanel>
    </template>
  </AnswerSheet>
</template>

<style scoped>
.sample {
  margin-bottom: 10px;
  font-size: 0.93rem;
}
.scroll {
  overflow-x: auto;
}
.tests {
  margin-top: 14px;
}
.left-out {
  margin: 0;
  padding-left: 18px;
}
</style>
