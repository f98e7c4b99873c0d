<script setup lang="ts">
/** A cross-tabulation and its picture: what is pointed at in one is marked in the other. */
import { computed, ref, watch } from 'vue'

import type { Schemas } from '@/api/types'
import FigureView, { type Tile } from '@/parts/FigureView.vue'
import { useAsking } from '../useAsking'
import CrosstabTable from './CrosstabTable.vue'

defineProps<{ table: Schemas['CrosstabTable'] }>()

const { answer, figures, titles } = useAsking()
const showsShares = ref(false)
const marked = ref<Tile | null>(null)
const looked = ref<Tile | null>(null)
const cells = computed(() => answer.value.reading.cells)
watch(cells, () => {
  marked.value = null
  looked.value = null
})
const told = computed(() => looked.value ?? marked.value)

function mark(row: number, column: number) {
  const isSame = marked.value?.row === row && marked.value?.column === column
  marked.value = isSame ? null : { row, column, text: cells.value[row]?.[column] ?? '' }
}
</script>

<template>
  <div class="evidence">
    <CrosstabTable v-bind="{ table, marked, looked }" @mark="mark" @look="looked = $event" />
    <div class="picture">
      <p class="switch">
        <button class="act" :aria-pressed="!showsShares" @click="showsShares = false">
          mosaic
        </button>
        <button class="act" :aria-pressed="showsShares" @click="showsShares = true">shares</button>
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
</template>

<style scoped>
.evidence {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 20px;
  align-items: flex-start;
}
.picture {
  flex: 1 1 270px;
  min-width: 0;
}
.switch {
  display: flex;
  gap: 14px;
  justify-content: flex-end;
  margin-bottom: 18px;
  font-size: 0.93rem;
}
.told {
  min-height: 1.45em;
  margin-top: 10px;
  font-size: 0.93rem;
}
</style>
