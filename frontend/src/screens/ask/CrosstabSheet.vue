<script setup lang="ts">
/** The answer of the Crosstab lens: lead, headline figures, table and mosaic, notes. */
import { computed, ref } from 'vue'

import type { Answer, CrosstabResults, Entry, FigureSpec, Question } from '@/api/types'
import AnswerSheet from './AnswerSheet.vue'
import CategoriesPanel from './CategoriesPanel.vue'
import CrossedEvidence from './CrossedEvidence.vue'
import DeeperPanel from './DeeperPanel.vue'
import ExactPanel from './ExactPanel.vue'
import MapPanel from './MapPanel.vue'
import MeasuresPanel from './MeasuresPanel.vue'
import { measureLines } from './measures'
import SeveralTable from './SeveralTable.vue'
import { plainLines } from './several'
import StrataPanel from './StrataPanel.vue'
import TwoGroups from './TwoGroups.vue'
import WherePanel from './WherePanel.vue'
import { plainCells } from './crosstabView'
import { titleOf } from '@/parts/kinds'
import { isRecast } from './options'
import { areOrdered, entryOf, withFirst } from './words'

const props = defineProps<{
  answer: Answer
  results: CrosstabResults
  figures: Record<string, FigureSpec>
  question: Question
  codebook: Entry[]
  isOld: boolean
}>()

const emit = defineEmits<{ change: [question: Question] }>()

const evidence = ref<InstanceType<typeof CrossedEvidence>>()
const titles = computed(() => {
  const { outcome, vary_with } = props.answer.question
  const title = (name: string) => {
    const entry = entryOf(props.codebook, name)
    return entry ? titleOf(entry.variable) : name
  }
  return { columns: title(outcome!.variable), rows: title(vary_with[0]!.variable) }
})
const entries = computed(() =>
  [props.question.vary_with[0]?.variable, props.question.outcome?.variable]
    .map((name) => entryOf(props.codebook, name))
    .filter((entry): entry is Entry => !!entry),
)
const within = computed(() =>
  props.question.within
    .map((name) => entryOf(props.codebook, name))
    .map((entry) => (entry ? titleOf(entry.variable) : ''))
    .join(' and '),
)
const hasOrder = computed(() => areOrdered(entries.value))

function lead(variable: string) {
  const next = withFirst(props.question, variable)
  if (next !== props.question) emit('change', next)
}

defineExpose({ transpose: () => evidence.value?.transpose() })
</script>

<template>
  <AnswerSheet :answer="answer" :is-old="isOld">
    <SeveralTable
      v-if="results.several.length"
      :lines="plainLines(results.several)"
      :outcome="titles.columns"
      statistic="χ²"
      @choose="lead"
    />
    <CrossedEvidence
      ref="evidence"
      :table="plainCells(results.whole, titles)"
      :titles="titles"
      :noun="answer.counted.noun_many"
      :totals="answer.counted.noun_many"
      :cells="answer.reading.cells"
      :figures="figures"
    />
    <StrataPanel
      v-if="results.strata.length"
      :results="results"
      :figures="figures"
      :title="within"
    />
    <template #deeper>
      <DeeperPanel heading="How strong" hint="measures of association with intervals">
        <MeasuresPanel :lines="measureLines(results.whole.association, hasOrder, titles)" />
      </DeeperPanel>
      <DeeperPanel
        v-if="results.whole.odds_ratio || results.whole.mcnemar"
        heading="Two groups"
        hint="exact test and odds ratio, difference, number needed"
      >
        <TwoGroups :table="results.whole" />
      </DeeperPanel>
      <DeeperPanel
        heading="Exact test"
        hint="for sparse tables"
        :starts-open="!!results.whole.exact"
      >
        <ExactPanel :table="results.whole" :question="question" @change="emit('change', $event)" />
      </DeeperPanel>
      <DeeperPanel heading="Where it lies" hint="cells that stand out, every two groups">
        <WherePanel
          :answer="answer"
          :table="results.whole"
          :question="question"
          @change="emit('change', $event)"
        />
      </DeeperPanel>
      <DeeperPanel
        v-if="results.whole.correspondence && figures.map"
        heading="Map"
        hint="which groups are answered alike"
      >
        <MapPanel :map="results.whole.correspondence" :picture="figures.map" :titles="titles" />
      </DeeperPanel>
      <DeeperPanel
        heading="Categories for this question only"
        hint="leave out, combine, order, no answer as a category"
        :starts-open="isRecast(question)"
      >
        <CategoriesPanel :question="question" :entries="entries" @change="emit('change', $event)" />
      </DeeperPanel>
    </template>
  </AnswerSheet>
</template>
