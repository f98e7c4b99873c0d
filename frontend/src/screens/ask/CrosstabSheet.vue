<script setup lang="ts">
/** The answer of the Crosstab lens: lead, headline figures, table and mosaic, notes. */
import { computed, ref, watch } from 'vue'

import type { Answer, CrosstabResults, Entry, FigureSpec } from '@/api/types'
import FigureView, { type Tile } from '@/parts/FigureView.vue'
import AnswerSheet from './AnswerSheet.vue'
import CrosstabTable from './CrosstabTable.vue'
import { titleOf } from '@/parts/kinds'
import { entryOf } from './words'

const props = defineProps<{
  answer: Answer
  results: CrosstabResults
  mosaic: FigureSpec
  codebook: Entry[]
  isOld: boolean
}>()

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
        <FigureView
          :spec="mosaic"
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
  padding-top: 44px;
}
.told {
  min-height: 1.45em;
  margin-top: 10px;
  font-size: 0.93rem;
}
</style>
