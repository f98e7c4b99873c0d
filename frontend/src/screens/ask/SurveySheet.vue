<script setup lang="ts">
/** An answer that respects the design of the sample, the one without it beside every number. */
import { computed } from 'vue'

import type { Answer, Entry, FigureSpec, Question, Study, Survey } from '@/api/types'
import FigureView from '@/parts/FigureView.vue'
import { design } from '@/screens/data/design'
import AnswerSheet from './AnswerSheet.vue'
import DeeperPanel from './DeeperPanel.vue'
import FirstTablePanel from './FirstTablePanel.vue'
import MeasuresPanel from './MeasuresPanel.vue'
import ProfilePanel from './ProfilePanel.vue'
import RelatedPanel from './RelatedPanel.vue'
import SeveralTable from './SeveralTable.vue'
import SurveyBeside from './SurveyBeside.vue'
import SurveyCells from './SurveyCells.vue'
import SurveyFit from './SurveyFit.vue'
import SurveyModelStrata from './SurveyModelStrata.vue'
import SurveyModelTable from './SurveyModelTable.vue'
import SurveyNumbers from './SurveyNumbers.vue'
import SurveyShares from './SurveyShares.vue'
import SurveyStrata from './SurveyStrata.vue'
import SurveyTests from './SurveyTests.vue'
import { weightedLines } from './measures'
import { withOptions } from './options'
import { weightedSeveral } from './several'
import { areOrdered, entryOf, titlesOf, withFirst } from './words'

const props = defineProps<{
  answer: Answer
  survey: Survey
  figures: Record<string, FigureSpec>
  question: Question
  codebook: Entry[]
  isOld: boolean
  study: Study
  datasetId: string
  version: number
}>()
const emit = defineEmits<{ change: [question: Question] }>()

type Test = NonNullable<Survey['goodness_of_fit']>

const placed = computed(() => ({
  study: props.study,
  datasetId: props.datasetId,
  version: props.version,
  question: props.question,
}))
const eventLabel = computed(() => {
  const { results } = props.answer
  return results.lens === 'odds' ? results.event_label : ''
})
const within = computed(() => titlesOf(props.codebook, props.question.within))
/** The same question with the weights but without strata and clusters. */
const weightsOnly = computed<Question | undefined>(() => {
  const counting = props.question.counted_by
  if (counting.kind !== 'design' || !(counting.strata || counting.clusters)) return undefined
  return { ...props.question, counted_by: design(counting.weights) }
})
const leading = computed(() =>
  named([
    ['Rao–Scott, second order', props.survey.table?.rao_scott_second_order],
    ['Against the stated shares, Rao–Scott', props.survey.goodness_of_fit],
  ]),
)
const otherTests = computed(() =>
  named([
    ['Rao–Scott, first order', props.survey.table?.rao_scott_first_order],
    ['Wald, adjusted', props.survey.table?.wald],
  ]),
)

function named(tests: [string, Test | null | undefined][]) {
  return tests.flatMap(([what, test]) => (test ? [{ what, test }] : []))
}
const hasOrder = computed(() =>
  areOrdered(
    [props.question.vary_with[0]?.variable, props.question.outcome?.variable].map((name) =>
      entryOf(props.codebook, name),
    ),
  ),
)
const measures = computed(() =>
  props.survey.table
    ? weightedLines(props.survey.table, hasOrder.value, {
        rows: titlesOf(props.codebook, [props.question.vary_with[0]!.variable]),
        columns: titlesOf(props.codebook, [props.question.outcome!.variable]),
      })
    : [],
)
</script>

<template>
  <AnswerSheet :answer="answer" :is-old="isOld">
    <p class="quiet sample" aria-label="The sample">
      <button
        class="act"
        :aria-pressed="!!survey.beside"
        @click="emit('change', withOptions(question, { beside: survey.beside ? undefined : true }))"
      >
        {{ survey.beside ? 'with the design alone' : 'with and without, side by side' }}
      </button>
      <button class="act" @click="emit('change', { ...question, counted_by: { kind: 'each' } })">
        without the design
      </button>
      <button v-if="weightsOnly" class="act" @click="emit('change', weightsOnly)">
        weights only
      </button>
    </p>
    <SeveralTable
      v-if="survey.several.length"
      :lines="weightedSeveral(survey.several)"
      statistic="Rao–Scott F"
      :outcome="titlesOf(codebook, [question.outcome!.variable])"
      @choose="emit('change', withFirst(question, $event))"
    />
    <SurveyBeside v-if="survey.beside" :beside="survey.beside" :noun="answer.counted.noun_one" />
    <SurveyCells v-if="survey.table" :table="survey.table" />
    <SurveyTests v-if="leading.length" :tests="leading" />
    <SurveyShares
      v-if="survey.shares.length"
      :shares="survey.shares"
      :comparisons="survey.comparisons"
      :trend="survey.trend"
      :is-of-answers="question.lens === 'distribution'"
    />
    <FigureView
      v-if="figures.weighted"
      :spec="figures.weighted"
      label="Weighted shares with intervals; the unweighted pale"
      name="Weighted shares"
    />
    <SurveyNumbers v-if="survey.mean" :mean="survey.mean" />
    <FigureView
      v-if="figures.weighted_histogram"
      :spec="figures.weighted_histogram"
      label="Weighted histogram; the unweighted as a line"
      name="Weighted histogram"
    />
    <SurveyModelTable v-if="survey.model" :model="survey.model" />
    <section v-for="other in survey.others" :key="other.variable" :aria-label="other.title">
      <h3 class="overline other">{{ other.title }}, weighted</h3>
      <SurveyShares v-if="other.shares.length" :shares="other.shares" is-of-answers />
      <SurveyNumbers v-if="other.mean" :mean="other.mean" />
    </section>
    <SurveyStrata v-if="survey.strata.length" :survey="survey" :title="within" />
    <SurveyModelStrata
      v-if="survey.model && survey.model_strata"
      :model="survey.model"
      :strata="survey.model_strata"
      :title="within"
    />
    <template #deeper>
      <DeeperPanel v-if="survey.model" heading="Steps and fit" hint="with the design of the sample">
        <SurveyFit :model="survey.model" />
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
        v-if="question.lens === 'distribution'"
        heading="What goes with it?"
        hint="a quick look over all other variables"
      >
        <RelatedPanel v-bind="placed" @ask="emit('change', $event)" />
      </DeeperPanel>
      <DeeperPanel
        v-if="question.lens === 'proportions'"
        heading="Table of characteristics"
        hint="the first table of a paper"
        :starts-open="question.vary_with.length > 1"
      >
        <FirstTablePanel v-bind="placed" />
      </DeeperPanel>
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
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
}
.other {
  margin: 16px 0 4px;
}
.left-out {
  margin: 0;
  padding-left: 18px;
}
</style>
