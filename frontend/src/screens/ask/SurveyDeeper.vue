<script setup lang="ts">
/** What can be gone into under an answer with a survey design, lens by lens. */
import { computed } from 'vue'

import type { Answer, Entry, FigureSpec, Question, Study, Survey } from '@/api/types'
import { isCategorical } from '@/parts/kinds'
import CategoriesPanel from './CategoriesPanel.vue'
import CoefficientsTable from './CoefficientsTable.vue'
import DeeperPanel from './DeeperPanel.vue'
import ExpectedEditor from './ExpectedEditor.vue'
import FirstTablePanel from './FirstTablePanel.vue'
import LevelField from './LevelField.vue'
import MeasuresPanel from './MeasuresPanel.vue'
import PaperTable from './PaperTable.vue'
import ProfilePanel from './ProfilePanel.vue'
import RelatedPanel from './RelatedPanel.vue'
import SurveyFit from './SurveyFit.vue'
import SurveyTests from './SurveyTests.vue'
import { adjustedF, correctedF, namedTests, weightedLines } from './measures'
import { isRecast } from './options'
import { namesIn } from './terms'
import { areOrdered, entryOf } from './words'

const props = defineProps<{
  answer: Answer
  survey: Survey
  figures: Record<string, FigureSpec>
  question: Question
  codebook: Entry[]
  titles: { rows: string; columns: string }
  study: Study
  datasetId: string
  version: number
}>()
const emit = defineEmits<{ change: [question: Question] }>()

const placed = computed(() => ({
  study: props.study,
  datasetId: props.datasetId,
  version: props.version,
  question: props.question,
}))
/** The variables that are counted, as far as the codebook knows them: two in a table. */
const entries = computed(() =>
  [
    ...(props.survey.model ? namesIn(props.question) : [props.question.vary_with[0]?.variable]),
    props.question.outcome?.variable,
  ]
    .map((name) => entryOf(props.codebook, name))
    .filter((entry) => entry !== undefined),
)
const categorical = computed(() => entries.value.filter(({ variable }) => isCategorical(variable)))
const measures = computed(() => {
  const { results } = props.answer
  if (!props.survey.table || results.lens !== 'crosstab') return []
  const { association } = results.whole
  return weightedLines(props.survey.table, areOrdered(entries.value), props.titles, association)
})
const otherTests = computed(() =>
  namedTests([
    ['Rao–Scott, first order', correctedF(props.survey.table, 'first_order')],
    ['Wald on departures, adjusted', adjustedF(props.survey.table?.wald_residual)],
    ['Wald on log odds ratios, adjusted', adjustedF(props.survey.table?.wald_log_odds_ratios)],
  ]),
)
const eventLabel = computed(() => {
  const { results } = props.answer
  return results.lens === 'odds' ? results.event_label : ''
})
/** The variable that shares may be expected of. */
const listed = computed(() => {
  const { results } = props.answer
  const first = results.lens === 'distribution' ? results.whole.variables[0] : undefined
  const hasShares = first && !['numeric', 'text'].includes(first.kind) && first.table.length > 1
  return hasShares ? first : undefined
})
</script>

<template>
  <DeeperPanel v-if="survey.model" heading="Steps and fit" hint="with the design of the sample">
    <SurveyFit :model="survey.model" :figures="figures" />
  </DeeperPanel>
  <DeeperPanel
    v-if="survey.model?.slots.length"
    heading="Try a profile"
    hint="predicted probability of somebody like this, weighted"
  >
    <ProfilePanel
      :model="survey.model"
      :event="eventLabel"
      :figures="figures"
      :question="question"
      @change="emit('change', $event)"
    />
  </DeeperPanel>
  <DeeperPanel v-if="measures.length" heading="How strong" hint="measures of weighted cells">
    <MeasuresPanel :lines="measures" />
  </DeeperPanel>
  <DeeperPanel v-if="otherTests.length" heading="Other tests" hint="first order, and Wald">
    <SurveyTests :tests="otherTests" />
  </DeeperPanel>
  <DeeperPanel
    v-if="answer.lens !== 'distribution'"
    heading="Categories for this question only"
    hint="leave out, combine, order, no answer as a category"
    :starts-open="isRecast(question)"
  >
    <CategoriesPanel :question="question" :entries="categorical" @change="emit('change', $event)" />
  </DeeperPanel>
  <template v-if="survey.model">
    <DeeperPanel heading="Table for a paper" hint="unadjusted and adjusted, to copy">
      <PaperTable
        :terms="survey.model.terms"
        :event="eventLabel"
        :outcome="titles.columns"
        :events="survey.model.events"
        :n="survey.model.n"
        :confidence="question.confidence"
        tests="Weighted; events and n are unweighted. p of a variable is its adjusted Wald test; p of a row its t test, both with the errors of the design."
      />
    </DeeperPanel>
    <DeeperPanel heading="Coefficients" hint="log odds, errors of the design, equation">
      <CoefficientsTable
        :coefficients="survey.model.coefficients"
        :equation="survey.model.equation"
      />
    </DeeperPanel>
  </template>
  <DeeperPanel
    v-if="listed"
    heading="Against expected shares"
    hint="equal, stated, or another variable’s"
    :starts-open="!!survey.goodness_of_fit"
  >
    <ExpectedEditor
      :question="question"
      :variable="listed"
      :codebook="codebook"
      @change="emit('change', $event)"
    />
  </DeeperPanel>
  <DeeperPanel
    v-if="answer.lens === 'distribution'"
    heading="What goes with it?"
    hint="a quick look over all other variables"
  >
    <RelatedPanel v-bind="placed" @ask="emit('change', $event)" />
  </DeeperPanel>
  <DeeperPanel
    v-if="answer.lens === 'proportions'"
    heading="Table of characteristics"
    hint="the first table of a paper"
    :starts-open="question.vary_with.length > 1"
  >
    <FirstTablePanel v-bind="placed" />
  </DeeperPanel>
  <DeeperPanel heading="Intervals" hint="at what level">
    <LevelField :question="question" class="level" @change="emit('change', $event)" />
  </DeeperPanel>
  <DeeperPanel heading="What a design leaves out" hint="and what to use instead">
    <ul class="left-out">
      <li v-for="each in survey.unavailable" :key="each.quantity">{{ each.reason }}</li>
    </ul>
  </DeeperPanel>
</template>

<style scoped>
.level {
  max-width: 220px;
}
.left-out {
  margin: 0;
  padding-left: 18px;
}
</style>
