<script setup lang="ts">
/** A small grid to type or paste a table of counts with its labels. */
import { computed, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import type { DataSet, Study } from '@/api/types'
import { count } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'
import { readPasted } from './pasted'

const props = defineProps<{ study: Study }>()
const emit = defineEmits<{ brought: [dataset: DataSet]; close: [] }>()

const name = ref('Typed table')
const rowTitle = ref('')
const columnTitle = ref('')
const rows = ref(['', ''])
const columns = ref(['', ''])
const cells = ref([
  ['', ''],
  ['', ''],
])
const error = ref<Error>()
const isBusy = ref(false)

const counts = computed(() =>
  cells.value.map((row) =>
    row.map((cell) => (cell.trim() ? Number(cell.replace(/[\s,]/g, '')) : 0)),
  ),
)
const wrong = computed(() => {
  for (const [i, row] of counts.value.entries())
    for (const [j, n] of row.entries())
      if (!Number.isInteger(n) || n < 0) return { i, j, text: cells.value[i]![j]! }
  return undefined
})
const total = computed(() => counts.value.flat().reduce((sum, n) => sum + (n || 0), 0))

function addRow() {
  rows.value.push('')
  cells.value.push(columns.value.map(() => ''))
}

function addColumn() {
  columns.value.push('')
  cells.value.forEach((row) => row.push(''))
}

function removeRow(i: number) {
  rows.value.splice(i, 1)
  cells.value.splice(i, 1)
}

function removeColumn(j: number) {
  columns.value.splice(j, 1)
  cells.value.forEach((row) => row.splice(j, 1))
}

/** A block copied from a spreadsheet or a document fills the grid, labels and all. */
function paste(event: ClipboardEvent) {
  const read = readPasted(event.clipboardData?.getData('text/plain') ?? '')
  if (!read) return
  event.preventDefault()
  rows.value = read.rows
  columns.value = read.columns
  cells.value = read.cells
  if (read.corner) rowTitle.value = read.corner
}

async function make() {
  error.value = undefined
  if (wrong.value) {
    error.value = new Error(`“${wrong.value.text}” is not a count: whole numbers, 0 or more.`)
    return
  }
  isBusy.value = true
  const single = columns.value.length === 1
  try {
    const made = await unwrap(
      client.POST('/api/studies/{study_id}/datasets/typed', {
        params: { path: { study_id: props.study.id } },
        body: {
          name: name.value || 'Typed table',
          row_title: rowTitle.value || 'Group',
          column_title: single ? null : columnTitle.value || 'Answer',
          rows: rows.value,
          columns: single ? ['n'] : columns.value,
          counts: counts.value,
        },
      }),
    )
    emit('brought', made)
  } catch (reason) {
    error.value = reason as Error
  } finally {
    isBusy.value = false
  }
}
</script>

<template>
  <form class="typed" aria-label="Type a table of counts" @submit.prevent="make" @paste="paste">
    <p class="quiet">
      Type the counts, or paste a table with its labels from a spreadsheet or a paper. One column of
      counts makes one variable.
    </p>
    <div class="titles">
      <label><span class="quiet">Name</span><input v-model="name" maxlength="200" /></label>
      <label
        ><span class="quiet">Rows are</span
        ><input v-model="rowTitle" placeholder="Water source" maxlength="200"
      /></label>
      <label v-if="columns.length > 1"
        ><span class="quiet">Columns are</span
        ><input v-model="columnTitle" placeholder="Illness" maxlength="200"
      /></label>
    </div>
    <div class="grid-scroll">
      <table>
        <thead>
          <tr>
            <td></td>
            <th v-for="(_, j) in columns" :key="j" scope="col">
              <input
                v-model="columns[j]"
                :aria-label="`Label of column ${j + 1}`"
                :placeholder="`column ${j + 1}`"
                maxlength="200"
              />
              <button
                v-if="columns.length > 1"
                type="button"
                class="quiet"
                :aria-label="`Remove column ${j + 1}`"
                @click="removeColumn(j)"
              >
                ×
              </button>
            </th>
            <td><button type="button" class="act" @click="addColumn">+ column</button></td>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, i) in cells" :key="i">
            <th scope="row">
              <input
                v-model="rows[i]"
                :aria-label="`Label of row ${i + 1}`"
                :placeholder="`row ${i + 1}`"
                maxlength="200"
              />
            </th>
            <td v-for="(_, j) in row" :key="j">
              <input
                v-model="row[j]"
                class="cell"
                :class="{ wrong: wrong?.i === i && wrong?.j === j }"
                inputmode="numeric"
                :aria-label="`Count in row ${i + 1}, column ${j + 1}`"
                placeholder="0"
              />
            </td>
            <td>
              <button
                v-if="rows.length > 1"
                type="button"
                class="quiet"
                :aria-label="`Remove row ${i + 1}`"
                @click="removeRow(i)"
              >
                ×
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="foot">
      <button type="button" class="act" @click="addRow">+ row</button>
      <span class="quiet">{{ count(total) }} in all</span>
    </p>
    <ErrorNote :error="error" />
    <p class="foot">
      <v-btn type="submit" color="primary" :loading="isBusy">Use this table</v-btn>
      <button type="button" class="act" @click="emit('close')">Close</button>
    </p>
  </form>
</template>

<style scoped>
.typed {
  display: grid;
  gap: 12px;
  max-width: 900px;
}
.titles {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
}
.titles label {
  display: grid;
}
input {
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 1px solid var(--hairline);
  padding: 4px 6px;
  min-width: 0;
}
input:focus {
  outline: none;
  border-color: var(--pine);
}
.grid-scroll {
  overflow-x: auto;
}
th input {
  width: 130px;
  font-weight: 600;
}
.cell {
  width: 130px;
  text-align: right;
}
.cell.wrong {
  border-color: var(--fail);
  color: var(--fail);
}
.foot {
  display: flex;
  gap: 20px;
  align-items: baseline;
}
</style>
