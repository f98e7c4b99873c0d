<script setup lang="ts">
/** The answer of the Odds model lens: odds ratios, adjusted beside unadjusted, and all behind them. */
import { computed } from 'vue'

import type { Answer, Entry, FigureSpec, OddsResults, Question } from '@/api/types'
import FigureView from '@/parts/FigureView.vue'
import { isCategorical, titleOf } from '@/parts/kinds'
import AnswerSheet from './AnswerSheet.vue'
import CategoriesPanel from './CategoriesPanel.vue'
import CoefficientsTable from './CoefficientsTable.vue'
import DeeperPanel from './DeeperPanel.vue'
import FitPanel from './FitPanel.vue'
import ModelByStratum from './ModelByStratum.vue'
import OddsTable from './OddsTable.vue'
import PaperTable from './PaperTable.vue'
import ProfilePanel from './ProfilePanel.vue'
import SortPanel from './SortPanel.vue'
import StepsPanel from './StepsPanel.vue'
import UnusualPanel from './UnusualPanel.vue'
import LevelField from './LevelField.vue'
import { withOptions } from './options'
import { namesIn } from './terms'
import { entryOf, titlesOf } from './words'

const props = defineProps<{
  answer: Answer
  results: OddsResults
  figures: Record<string, FigureSpec>
  codebook: Entry[]
  question: Question
  isOld: boolean
}>()
const emit = defineEmits<{ change: [question: Question] }>()

const model = computed(() => props.results.whole)
const shared = computed(() => ({
  results: props.results,
  figures: props.figures,
  question: props.question,
}))
const within = computed(() => titlesOf(props.codebook, props.question.within))
const outcomeTitle = computed(() => {
  const entry = entryOf(props.codebook, props.question.outcome?.variable)
  return entry ? titleOf(entry.variable) : ''
})
const categorical = computed(() =>
  [props.question.outcome?.variable, ...namesIn(props.question)]
    .map((name) => entryOf(props.codebook, name))
    .filter((entry): entry is Entry => !!entry && isCategorical(entry.variable)),
)
const tests = computed(() => {
  const ofRow = model.value.method === 'firth' ? 'penalised likelihood-ratio' : 'Wald'
  return `p of a variable is its likelihood-ratio test; p of a row its ${ofRow} test.`
})
const methods = [
  { value: 'maximum_likelihood', title: 'maximum likelihood' },
  { value: 'firth', title: 'Firth’s penalised likelihood' },
]
const intervals = [
  { value: 'wald', title: 'Wald (quick)' },
  { value: 'profile', title: 'profile likelihood' },
]

function set(changes: Record<string, unknown>) {
  emit('change', withOptions(props.question, changes))
}
</script>

<template>
  <AnswerSheet :answer="answer" :is-old="isOld">
    <div class="evidence">
      <OddsTable
        :terms="model.terms"
        :event="results.event_label"
        :without="model.without?.odds_ratios"
      />
      <FigureView
        :spec="figures.forest!"
        label="Odds ratios with intervals, on a log scale"
        name="Odds ratios"
      />
    </div>
    <ModelByStratum
      v-if="results.strata.length"
      :results="results"
      :figures="figures"
      :title="within"
    />
    <template #deeper>
      <DeeperPanel
        v-if="model.slots.length"
        heading="Try a profile"
        hint="predicted probability of somebody like this"
      >
        <ProfilePanel
          :figures="figures"
          :question="question"
          :model="model"
          :event="results.event_label"
          @change="emit('change', $event)"
        />
      </DeeperPanel>
      <DeeperPanel heading="Step by step" hint="what each step gains">
        <StepsPanel :results="results" :question="question" @change="emit('change', $event)" />
      </DeeperPanel>
      <DeeperPanel heading="How well it fits" hint="predicted against observed, bending">
        <FitPanel :results="results" :figures="figures" />
      </DeeperPanel>
      <DeeperPanel heading="How well it sorts" hint="cut-off, sensitivity, area under the curve">
        <SortPanel v-bind="shared" @change="emit('change', $event)" />
      </DeeperPanel>
      <DeeperPanel heading="Unusual rows" hint="residuals, influence, the model without some">
        <UnusualPanel v-bind="shared" @change="emit('change', $event)" />
      </DeeperPanel>
      <DeeperPanel heading="Table for a paper" hint="unadjusted and adjusted, to copy">
        <PaperTable
          :terms="model.terms"
          :event="results.event_label"
          :outcome="outcomeTitle"
          :events="model.events"
          :n="model.n"
          :confidence="question.confidence"
          :tests="tests"
        />
      </DeeperPanel>
      <DeeperPanel
        heading="Categories for this question only"
        hint="leave out, combine, no answer as a category"
      >
        <CategoriesPanel
          :question="question"
          :entries="categorical"
          @change="emit('change', $event)"
        />
      </DeeperPanel>
      <DeeperPanel heading="Coefficients" hint="log odds, intervals, equation">
        <div class="choices">
          <v-select
            :model-value="(question.options.method as string) ?? 'maximum_likelihood'"
            :items="methods"
            label="Estimated by"
            @update:model-value="
              set({ method: $event === 'maximum_likelihood' ? undefined : $event })
            "
          />
          <v-select
            :model-value="model.interval"
            :items="intervals"
            :disabled="model.method === 'firth'"
            label="Intervals"
            @update:model-value="set({ interval: $event === 'wald' ? undefined : $event })"
          />
          <LevelField :question="question" @change="emit('change', $event)" />
        </div>
        <CoefficientsTable :coefficients="model.coefficients" :equation="model.equation" />
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
.choices {
  display: grid;
  grid-template-columns: 240px 180px 170px;
  gap: 12px;
  margin-bottom: 10px;
}
@media (max-width: 760px) {
  .choices {
    grid-template-columns: 1fr;
  }
}
</style>
