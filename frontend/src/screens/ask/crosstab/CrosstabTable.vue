<script setup lang="ts">
/** The cross-tabulation: percentages chosen by meaning, cells that stand out marked. */
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/types'
import { count, percent } from '@/design/numbers'
import type { Tile } from '@/parts/FigureView.vue'
import HeadWords from '@/parts/HeadWords.vue'
import { useAsking } from '../useAsking'
import { walk } from './cellKeys'
import CrosstabCell from './CrosstabCell.vue'
import { markOf, viewsOf } from './views'
import WaysToShow from './WaysToShow.vue'

const props = defineProps<{
  table: Schemas['CrosstabTable']
  marked: Tile | null
  looked: Tile | null
}>()
const emit = defineEmits<{ mark: [row: number, column: number]; look: [tile: Tile | null] }>()

const { answer, isTransposed, titles } = useAsking()
const chosen = ref<string>()
const views = computed(() => viewsOf(props.table, titles.value))
const view = computed(
  () => views.value.find(({ show }) => show === chosen.value) ?? views.value[0]!,
)
const noun = computed(() => answer.value.counted.noun_many)
/** What the counts at the end of every line are. */
const totals = computed(() => (props.table.weighted ? 'sampled' : noun.value))

interface Head {
  at: number
  label: string
  total: number
  margin: number
  side: 'rows' | 'columns'
}
const groups = computed<Head[]>(() =>
  props.table.rows.map(({ label }, at) => ({
    at,
    label,
    total: props.table.row_totals[at]!,
    margin: props.table.row_margin[at]!,
    side: 'rows',
  })),
)
const answers = computed<Head[]>(() =>
  props.table.order.map((at) => ({
    at,
    label: props.table.columns[at]!.label,
    total: props.table.column_totals[at]!,
    margin: props.table.column_margin[at]!,
    side: 'columns',
  })),
)
const down = computed(() => (isTransposed.value ? answers.value : groups.value))
const across = computed(() => (isTransposed.value ? groups.value : answers.value))
const downTitle = computed(() => (isTransposed.value ? titles.value.columns : titles.value.rows))
const acrossTitle = computed(() => (isTransposed.value ? titles.value.rows : titles.value.columns))
const caption = computed(
  () => `${titles.value.columns} by ${titles.value.rows}, ${view.value.words}`,
)

function place(first: Head, second: Head) {
  return first.side === 'rows'
    ? { row: first.at, column: second.at }
    : { row: second.at, column: first.at }
}

function tile(first: Head, second: Head): Tile {
  const at = place(first, second)
  return { ...at, text: answer.value.reading.cells[at.row]?.[at.column] ?? '' }
}

function isAt(at: Tile | null, first: Head, second: Head): boolean {
  const { row, column } = place(first, second)
  return at?.row === row && at?.column === column
}

function mark(first: Head, second: Head): string {
  const { row, column } = place(first, second)
  return markOf(props.table, row, column)
}

/** The share of all that a row or column of the table holds, where that is what is shown. */
function total(head: Head): string {
  return view.value.shares.includes(head.side) ? percent(head.margin) : count(head.total)
}

function countAt(first: Head, second: Head): number {
  const { row, column } = place(first, second)
  return props.table.counts[row]![column]!
}

const showsCounts = computed(() => view.value.shares.length > 0)
</script>

<template>
  <div class="crosstab">
    <WaysToShow
      :views="views"
      :shown="view.show"
      @choose="chosen = $event"
      @transpose="isTransposed = !isTransposed"
    />
    <div
      class="scroll"
      :class="{ wide: across.length > 3 }"
      tabindex="0"
      role="region"
      aria-label="Cross-tabulation"
    >
      <table>
        <caption class="visually-hidden">
          {{
            caption
          }}
        </caption>
        <thead>
          <tr class="over">
            <td></td>
            <th :colspan="across.length" scope="colgroup">{{ acrossTitle }}</th>
            <td></td>
          </tr>
          <tr>
            <th scope="col" class="corner"><HeadWords :words="downTitle" /></th>
            <th v-for="second in across" :key="second.at" scope="col">
              <HeadWords :words="second.label" />
            </th>
            <th scope="col" class="total noun">{{ totals }}</th>
          </tr>
        </thead>
        <tbody @keydown="walk">
          <tr v-for="(first, i) in down" :key="first.at">
            <th scope="row" :title="first.label">{{ first.label }}</th>
            <CrosstabCell
              v-for="(second, j) in across"
              :key="second.at"
              :tabindex="i || j ? -1 : 0"
              :mark="mark(first, second)"
              :is-marked="isAt(marked, first, second)"
              :is-looked-at="isAt(looked, first, second)"
              :title="view.exact(place(first, second).row, place(first, second).column)"
              :n="showsCounts ? countAt(first, second) : undefined"
              @click="emit('mark', place(first, second).row, place(first, second).column)"
              @mouseenter="emit('look', tile(first, second))"
              @mouseleave="emit('look', null)"
              @focus="emit('look', tile(first, second))"
              @blur="emit('look', null)"
              >{{ view.cell(place(first, second).row, place(first, second).column) }}</CrosstabCell
            >
            <td class="total">{{ total(first) }}</td>
          </tr>
        </tbody>
        <tfoot>
          <tr>
            <th scope="row">All {{ noun }}</th>
            <CrosstabCell
              v-for="second in across"
              :key="second.at"
              mark=""
              :n="showsCounts ? second.total : undefined"
              >{{ total(second) }}</CrosstabCell
            >
            <td class="total">{{ count(table.n) }}</td>
          </tr>
        </tfoot>
      </table>
    </div>
  </div>
</template>

<style scoped>
.crosstab {
  display: contents;
}
.scroll {
  flex: 1 1 400px;
  max-width: 780px;
  min-width: min(340px, 100%);
  overflow: auto;
  max-height: 70vh;
}
.scroll.wide {
  flex-basis: 100%;
  max-width: 100%;
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: 0.95rem;
}
th {
  font-weight: 600;
  text-align: right;
  max-width: 190px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
thead th {
  vertical-align: bottom;
  padding: 5px 8px;
  border-bottom: 1px solid var(--ink);
}
thead .over th,
thead .over td {
  border-bottom: 0;
  text-align: center;
  color: var(--quiet);
  padding-bottom: 0;
}
.corner,
tbody th,
tfoot th {
  text-align: left;
}
tbody th {
  font-weight: 400;
}
td,
tbody th,
tfoot th {
  padding: 6px 8px;
  text-align: right;
  border-bottom: 1px solid var(--hairline);
  white-space: nowrap;
}
tbody th,
tfoot th {
  text-align: left;
}
.total {
  color: var(--quiet);
}
.noun::first-letter {
  text-transform: uppercase;
}
tfoot td,
tfoot th {
  border-bottom: 0;
  border-top: 1px solid var(--ink);
  color: var(--quiet);
  font-weight: 400;
}
</style>
