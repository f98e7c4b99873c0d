<script setup lang="ts">
/** A table as papers print it. Where numbers can be put into a sentence, each is a button. */
import { computed } from 'vue'

import type { PrintedNumber, PrintedTable } from './printed'

const props = defineProps<{
  table: PrintedTable
  label?: string
  caption?: string
  givesNumbers?: boolean
}>()
const emit = defineEmits<{ take: [number: PrintedNumber] }>()

const isEmpty = (cell: PrintedTable['rows'][number]['cells'][number]) => !cell.length
const spans = computed(() =>
  props.table.rows.map(({ cells }) => cells.length > 1 && cells.slice(1).every(isOnlyBlank)),
)
function isOnlyBlank(cell: PrintedTable['rows'][number]['cells'][number]) {
  return isEmpty(cell) || cell.every((part) => part === '')
}
</script>

<template>
  <div class="scroll">
    <table class="printed">
      <caption v-if="label || caption">
        <b v-if="label">{{ label }}.</b>
        {{
          caption
        }}
      </caption>
      <thead>
        <tr>
          <th
            v-for="(column, i) in table.columns"
            :key="i"
            scope="col"
            :class="{ words: !column.is_number }"
          >
            {{ column.heading }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="(row, i) in table.rows"
          :key="i"
          :class="{ head: row.is_head, indented: row.indented }"
        >
          <component
            :is="j ? 'td' : 'th'"
            v-for="(cell, j) in spans[i] ? row.cells.slice(0, 1) : row.cells"
            :key="j"
            :scope="j ? undefined : 'row'"
            :colspan="spans[i] ? table.columns.length : undefined"
            :class="{ words: !table.columns[j]!.is_number }"
          >
            <template v-for="(part, k) in cell" :key="k"
              ><template v-if="typeof part === 'string'">{{ part }}</template
              ><button
                v-else-if="givesNumbers"
                type="button"
                class="number"
                :title="`Put in: ${part.label}`"
                :aria-label="`Put in ${part.label}: ${part.text}`"
                @mousedown.prevent
                @click="emit('take', part)"
              >
                {{ part.cell }}</button
              ><template v-else>{{ part.cell }}</template></template
            >
          </component>
        </tr>
      </tbody>
    </table>
    <p v-for="note in table.notes" :key="note" class="note">{{ note }}</p>
  </div>
</template>

<style scoped>
.scroll {
  font-family: var(--sans);
  overflow-x: auto;
}
.printed {
  font-family: var(--sans);
  overflow-wrap: normal;
  white-space: normal;
  border-collapse: collapse;
  min-width: 100%;
  font-size: 0.87rem;
  line-height: 1.35;
}
caption {
  text-align: left;
  font-family: var(--serif);
  font-size: 1rem;
  color: var(--quiet);
  padding-bottom: 6px;
}
th,
td {
  text-align: right;
  font-weight: 400;
  padding: 4px 0 4px 14px;
  vertical-align: top;
}
th:first-child {
  padding-left: 0;
}
td:not(.words) {
  white-space: nowrap;
}
th.words,
td.words {
  text-align: left;
}
thead th {
  font-weight: 600;
  vertical-align: bottom;
  border-bottom: 1px solid var(--ink);
}
tbody tr > * {
  border-bottom: 1px solid var(--hairline);
}
.head th {
  font-weight: 600;
}
.indented th {
  padding-left: 12px;
}
.number {
  background: var(--pine-soft);
  border-radius: 3px;
  padding: 0 2px;
}
.number:hover {
  outline: 1px solid var(--pine);
}
.note {
  font-size: 0.8rem;
  color: var(--quiet);
}
</style>
