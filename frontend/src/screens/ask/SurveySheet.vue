<script setup lang="ts">
/** An answer that respects the design of the sample, the one without it beside every number. */
import { computed, ref } from 'vue'

import type { Answer, Entry, FigureSpec, Question, Study, Survey } from '@/api/types'
import FigureView from '@/parts/FigureView.vue'
import { design } from '@/screens/data/design'
import AnswerSheet from './AnswerSheet.vue'
import BinWidth from './BinWidth.vue'
import CrossedEvidence from './CrossedEvidence.vue'
import OddsTable from './OddsTable.vue'
import SeveralTable from './SeveralTable.vue'
import SurveyAnswers from './SurveyAnswers.vue'
import SurveyBeside from './SurveyBeside.vue'
import SurveyDeeper from './SurveyDeeper.vue'
import SurveyModelStrata from './SurveyModelStrata.vue'
import SurveyNumbers from './SurveyNumbers.vue'
import SurveyShares from './SurveyShares.vue'
import SurveyStrata from './SurveyStrata.vue'
import SurveyTests from './SurveyTests.vue'
import { weightedCells } from './crosstabView'
import { correctedF, namedTests } from './measures'
import { withOptions } from './options'
import { weightedSeveral } from './several'
import { titlesOf, withFirst } from './words'

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

const within = computed(() => titlesOf(props.codebook, props.question.within))
/** The same question with the weights but without strata and clusters. */
const weightsOnly = computed<Question | undefined>(() => {
  const counting = props.question.counted_by
  if (counting.kind !== 'design' || !(counting.strata || counting.clusters)) return undefined
  return { ...props.question, counted_by: design(counting.weights) }
})
const leading = computed(() =>
  namedTests([
    ['Rao–Scott, second order', correctedF(props.survey.table, 'second_order')],
    ['Against the stated shares, Rao–Scott', props.survey.goodness_of_fit],
  ]),
)
/** Of the question that was answered, which may be another than the one just asked. */
const titles = computed(() => {
  const { outcome, vary_with } = props.answer.question
  const title = (name?: string) => (name ? titlesOf(props.codebook, [name]) : '')
  return { rows: title(vary_with[0]?.variable), columns: title(outcome?.variable) }
})
const eventLabel = computed(() => {
  const { results } = props.answer
  return results.lens === 'odds' ? results.event_label : ''
})
const evidence = ref<InstanceType<typeof CrossedEvidence>>()

defineExpose({ transpose: () => evidence.value?.transpose() })
</script>

<template>
  <AnswerSheet :answer="answer" :is-old="isOld">
    <p v-if="survey.moved" class="quiet">{{ survey.moved }}</p>
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
      :outcome="titles.columns"
      @choose="emit('change', withFirst(question, $event))"
    />
    <SurveyBeside v-if="survey.beside" :beside="survey.beside" :noun="answer.counted.noun_one" />
    <template v-if="survey.table">
      <CrossedEvidence
        ref="evidence"
        :table="weightedCells(survey.table, titles)"
        :titles="titles"
        :noun="answer.counted.noun_many"
        totals="sampled"
        :cells="answer.reading.cells"
        :figures="figures"
      />
      <p class="quiet">
        Percentages are weighted, small figures are unweighted counts. ▲ more and ▼ fewer than if
        the two were unrelated: design-based z with all cells allowed for (Holm, 5%).
      </p>
    </template>
    <SurveyTests v-if="leading.length" :tests="leading" />
    <div v-if="survey.shares.length" class="evidence">
      <SurveyAnswers
        v-if="answer.lens === 'distribution'"
        :shares="survey.shares"
        :frequencies="survey.frequencies"
        :fit="survey.goodness_of_fit"
      />
      <SurveyShares
        v-else
        :shares="survey.shares"
        :comparisons="survey.comparisons"
        :trend="survey.trend"
        :title="titles.rows"
      />
      <FigureView
        v-if="figures.weighted"
        :spec="figures.weighted"
        label="Weighted shares with intervals; the unweighted pale"
        name="Weighted shares"
      />
    </div>
    <SurveyNumbers v-if="survey.mean" :mean="survey.mean" />
    <FigureView
      v-if="figures.weighted_histogram"
      :spec="figures.weighted_histogram"
      label="Weighted histogram; the unweighted as a line"
      name="Weighted histogram"
    />
    <p v-if="survey.histogram" class="quiet">
      <BinWidth
        :question="question"
        :width="survey.histogram.width"
        @change="emit('change', $event)"
      />
    </p>
    <div v-if="survey.model" class="evidence">
      <OddsTable
        :terms="survey.model.terms"
        :event="eventLabel"
        people="with the event, unweighted"
      />
      <FigureView
        v-if="figures.forest"
        :spec="figures.forest"
        label="Odds ratios with intervals, on a log scale; the unadjusted pale"
        name="Odds ratios, weighted"
      />
    </div>
    <section v-for="other in survey.others" :key="other.variable" :aria-label="other.title">
      <h3 class="overline other">{{ other.title }}, weighted</h3>
      <SurveyAnswers v-if="other.shares.length" :shares="other.shares" />
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
      <SurveyDeeper
        v-bind="{ answer, survey, figures, question, codebook, study, datasetId, version }"
        :titles="titles"
        @change="emit('change', $event)"
      />
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
.evidence {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 24px;
  align-items: flex-start;
}
.other {
  margin: 16px 0 4px;
}
</style>
