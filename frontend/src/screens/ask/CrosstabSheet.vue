<script setup lang="ts">
/** The answer of the Crosstab lens: lead, headline figures, table and mosaic, notes. */
import { computed, ref, watch } from 'vue'

import type { Answer, Entry, FigureSpec } from '@/api/types'
import FigureView, { type Tile } from '@/parts/FigureView.vue'
import RichText from '@/parts/RichText.vue'
import CrosstabTable from './CrosstabTable.vue'
import { titleOf } from '@/parts/kinds'
import { entryOf } from './words'

const props = defineProps<{
  answer: Answer
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
  <article class="sheet" :class="{ old: isOld }" :aria-busy="isOld" aria-label="Answer">
    <p class="lead serif"><RichText :text="answer.reading.lead" /></p>
    <dl class="figures">
      <div v-for="figure in answer.reading.figures" :key="figure.label" :title="figure.exact">
        <dt>{{ figure.label }}</dt>
        <dd>
          <b>{{ figure.value }}</b> {{ figure.detail }}
        </dd>
      </div>
    </dl>
    <div class="evidence">
      <CrosstabTable
        :table="answer.results.whole"
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
    <ul class="notes">
      <li v-for="note in answer.reading.notes" :key="note"><RichText :text="note" /></li>
    </ul>
  </article>
</template>

<style scoped>
.sheet {
  background: var(--sheet);
  border: 1px solid var(--hairline);
  border-top: 0;
  border-radius: 0 0 8px 8px;
  padding: 16px 18px 18px;
  transition: opacity 0.15s;
}
.sheet.old {
  opacity: 0.6;
}
.lead {
  font-size: 1.22rem;
  line-height: 1.4;
  margin-bottom: 12px;
  overflow-wrap: anywhere;
}
.figures {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 26px;
  margin: 0 0 12px;
  padding-bottom: 12px;
  border-bottom: 1px solid var(--hairline);
}
dt {
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--quiet);
  font-size: 0.83rem;
}
dd {
  margin: 0;
  color: var(--quiet);
  font-size: 0.87rem;
}
dd b {
  color: var(--ink);
  font-size: 1.25rem;
  font-weight: 600;
}
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
.notes {
  margin: 10px 0 0;
  padding: 10px 0 0 16px;
  border-top: 1px solid var(--hairline);
  font-size: 0.93rem;
  color: var(--quiet);
}
.notes li {
  margin-bottom: 3px;
}
</style>
