<script setup lang="ts">
/** The cross-tabulation: percentages chosen by meaning, cells that stand out marked. */
import { mdiSwapHorizontal } from '@mdi/js'
import { computed, ref } from 'vue'

import { count, percent } from '@/design/numbers'
import type { Tile } from '@/parts/FigureView.vue'
import type { CellTable } from './crosstabView'

const props = defineProps<{
  table: CellTable
  titles: { rows: string; columns: string }
  noun: string
  /** What the counts at the end of every line are. */
  totals: string
  cells: readonly (readonly string[])[]
  isTransposed: boolean
  marked: Tile | null
  looked: Tile | null
}>()
const emit = defineEmits<{
  mark: [row: number, column: number]
  look: [tile: Tile | null]
  transpose: []
}>()

const chosen = ref<string>()
const view = computed(
  () => props.table.views.find(({ show }) => show === chosen.value) ?? props.table.views[0]!,
)

interface Head {
  at: number
  label: string
  total: number
  side: 'rows' | 'columns'
}
const sum = (values: readonly number[]) => values.reduce((all, value) => all + value, 0)
const all = computed(() => sum(props.table.counts.flat()))
const groups = computed<Head[]>(() =>
  props.table.rows.map((label, at) => ({
    at,
    label,
    total: sum(props.table.counts[at]!),
    side: 'rows',
  })),
)
const answers = computed<Head[]>(() =>
  props.table.order.map((at) => ({
    at,
    label: props.table.columns[at]!,
    total: sum(props.table.counts.map((row) => row[at]!)),
    side: 'columns',
  })),
)
const down = computed(() => (props.isTransposed ? answers.value : groups.value))
const across = computed(() => (props.isTransposed ? groups.value : answers.value))
const downTitle = computed(() => (props.isTransposed ? props.titles.columns : props.titles.rows))
const acrossTitle = computed(() => (props.isTransposed ? props.titles.rows : props.titles.columns))

function place(first: Head, second: Head) {
  return first.side === 'rows'
    ? { row: first.at, column: second.at }
    : { row: second.at, column: first.at }
}

function tile(first: Head, second: Head): Tile {
  const at = place(first, second)
  return { ...at, text: props.cells[at.row]?.[at.column] ?? '' }
}

function isAt(at: Tile | null, first: Head, second: Head): boolean {
  const { row, column } = place(first, second)
  return at?.row === row && at?.column === column
}

function mark(first: Head, second: Head): string {
  const { row, column } = place(first, second)
  return props.table.mark(row, column)
}

/** The share of all that a row or column of the table holds, where that is what is shown. */
function total(head: Head): string {
  const isShare = view.value.shares.includes(head.side)
  return isShare ? percent(props.table.margin[head.side][head.at]!) : count(head.total)
}

const showsCounts = computed(() => view.value.shares.length > 0)
</script>

<template>
  <div class="crosstab">
    <div class="show" role="radiogroup" aria-label="Show in the cells">
      <button
        v-for="each in table.views"
        :key="each.show"
        role="radio"
        :aria-checked="each.show === view.show"
        class="choice"
        @click="chosen = each.show"
      >
        {{ each.words }}
      </button>
      <button
        class="act exchange"
        title="Exchange rows and columns (x)"
        aria-label="Exchange rows and columns"
        @click="emit('transpose')"
      >
        <v-icon :icon="mdiSwapHorizontal" size="16" />
      </button>
    </div>
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
            titles.columns
          }}
          by
          {{
            titles.rows
          }},
          {{
            view.words
          }}
        </caption>
        <thead>
          <tr class="over">
            <td></td>
            <th :colspan="across.length" scope="colgroup">{{ acrossTitle }}</th>
            <td></td>
          </tr>
          <tr>
            <th scope="col" class="corner">{{ downTitle }}</th>
            <th v-for="second in across" :key="second.at" scope="col" :title="second.label">
              {{ second.label }}
            </th>
            <th scope="col" class="total noun">{{ totals }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="first in down" :key="first.at">
            <th scope="row" :title="first.label">{{ first.label }}</th>
            <td
              v-for="second in across"
              :key="second.at"
              class="cell"
              :class="[
                mark(first, second),
                { marked: isAt(marked, first, second), looked: isAt(looked, first, second) },
              ]"
              :title="view.exact(place(first, second).row, place(first, second).column)"
              @click="emit('mark', place(first, second).row, place(first, second).column)"
              @mouseenter="emit('look', tile(first, second))"
              @mouseleave="emit('look', null)"
            >
              {{ view.cell(place(first, second).row, place(first, second).column)
              }}<span class="sign" :class="mark(first, second).slice(0, 4)"
                ><template v-if="mark(first, second)"
                  ><span aria-hidden="true">{{
                    mark(first, second).startsWith('more') ? '▲' : '▼'
                  }}</span
                  ><span class="visually-hidden">{{
                    mark(first, second).startsWith('more')
                      ? 'more than expected'
                      : 'fewer than expected'
                  }}</span></template
                ></span
              ><small v-if="showsCounts" class="n">{{
                count(table.counts[place(first, second).row]![place(first, second).column]!)
              }}</small>
            </td>
            <td class="total">{{ total(first) }}</td>
          </tr>
        </tbody>
        <tfoot>
          <tr>
            <th scope="row">All {{ noun }}</th>
            <td v-for="second in across" :key="second.at" class="cell">
              {{ total(second) }}<span class="sign" /><small v-if="showsCounts" class="n">{{
                count(second.total)
              }}</small>
            </td>
            <td class="total">{{ count(all) }}</td>
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
.show {
  flex: 1 1 100%;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  font-size: 0.87rem;
}
.choice {
  color: var(--quiet);
  border-bottom: 2px solid transparent;
  max-width: 220px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.choice[aria-checked='true'] {
  color: var(--ink);
  font-weight: 600;
  border-color: var(--pine);
}
.exchange {
  margin-left: auto;
}
.scroll {
  flex: 1 1 auto;
  min-width: min(340px, 100%);
  max-width: 100%;
  overflow: auto;
  max-height: 70vh;
}
.scroll.wide {
  flex-basis: 100%;
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
.cell {
  cursor: default;
}
.sign {
  display: inline-block;
  width: 1.2em;
  font-size: 0.72rem;
  text-align: center;
  vertical-align: 1px;
}
.sign.more {
  color: var(--more-ink);
}
.sign.less {
  color: var(--less-ink);
}
.n {
  display: inline-block;
  min-width: 2.5em;
  color: var(--quiet);
}
.more-1 .n,
.more-2 .n,
.less-1 .n,
.less-2 .n {
  color: var(--ink);
}
.more-1 {
  background: var(--more-1);
}
.more-2 {
  background: var(--more-2);
}
.less-1 {
  background: var(--less-1);
}
.less-2 {
  background: var(--less-2);
}
.marked {
  outline: 2px solid var(--ink);
  outline-offset: -2px;
}
.looked {
  outline: 1px solid var(--quiet);
  outline-offset: -1px;
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
