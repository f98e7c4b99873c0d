<script setup lang="ts">
/** The answer of the Crosstab lens: lead, headline figures, table and mosaic, notes. */
import { computed, ref, watch } from 'vue'

import type { Answer, CrosstabResults, Entry, FigureSpec, Question } from '@/api/types'
import FigureView, { type Tile } from '@/parts/FigureView.vue'
import AnswerSheet from './AnswerSheet.vue'
import CategoriesPanel from './CategoriesPanel.vue'
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
import CrosstabTable from './CrosstabTable.vue'
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

const showsShares = ref(false)
const marked = ref<Tile | null>(null)
const looked = ref<Tile | null>(null)
const isTransposed = ref(false)
watch(
  () => props.answer,
  () => {
    marked.value = null
    looked.value = null
  },
)

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

const told = computed(() => looked.value ?? marked.value)
const cells = computed(() => props.answer.reading.cells)

function mark(row: number, column: number) {
  const isSame = marked.value?.row === row && marked.value?.column === column
  marked.value = isSame ? null : { row, column, text: cells.value[row]?.[column] ?? '' }
}

function transpose() {
  isTransposed.value = !isTransposed.value
}

defineExpose({ transpose })
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
    <div class="evidence">
      <CrosstabTable
        :table="results.whole"
        :titles="titles"
        :noun="answer.counted.noun_many"
        :cells="cells"
        :is-transposed="isTransposed"
        :marked="marked"
        :looked="looked"
        @mark="mark"
        @look="looked = $event"
        @transpose="transpose"
      />
      <div class="picture">
        <p class="switch">
          <button class="act" :aria-pressed="!showsShares" @click="showsShares = false">
            mosaic
          </button>
          <button class="act" :aria-pressed="showsShares" @click="showsShares = true">
            shares
          </button>
        </p>
        <FigureView
          v-if="showsShares"
          :spec="figures.stacked!"
          :label="`Stacked bars: ${titles.columns} within each group of ${titles.rows}`"
          :name="`${titles.columns} by ${titles.rows}, shares`"
        />
        <FigureView
          v-else
          :spec="figures.mosaic!"
          :name="`${titles.columns} by ${titles.rows}, mosaic`"
          :label="`Mosaic plot: ${titles.columns} by ${titles.rows}. Height is the size of the group, width the share of the answer.`"
          :marked="marked"
          @choose="mark($event.row, $event.column)"
          @look="looked = $event"
        />
      </div>
    </div>
    <p class="told quiet" aria-live="polite">
      {{ told ? told.text : 'Point at a cell, in the table or the picture, to read it in words.' }}
    </p>
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

<style scoped>
.evidence {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 20px;
  align-items: flex-start;
}
.picture {
  flex: 0 0 auto;
}
.switch {
  display: flex;
  gap: 14px;
  justify-content: flex-end;
  margin-bottom: 18px;
  font-size: 0.93rem;
}
.switch .act[aria-pressed='true'] {
  color: var(--ink);
  border-bottom: 2px solid var(--pine);
}
.told {
  min-height: 1.45em;
  margin-top: 10px;
  font-size: 0.93rem;
}
</style>
