<script setup lang="ts">
/** The first table of a paper: every variable of the question across the outcome, to be copied. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { plural, pValue } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'
import { useCopied } from '@/parts/useCopied'
import { useAsking } from '../useAsking'
import { cellsInWords, headInWords, linesOf } from './firstTable'

const { answer, dataset, study } = useAsking()

const { wasCopied, copyTable } = useCopied()
const within = ref<'outcome' | 'characteristic'>('outcome')
const numbers = ref<'mean' | 'median'>('mean')
const tests = ref(false)
const place = ref<HTMLTableElement>()
const found = useQuery({
  queryKey: computed(() => [
    'study',
    study.value.id,
    'first-table',
    dataset.value.id,
    dataset.value.version,
    answer.value.question,
    within.value,
    numbers.value,
    tests.value,
  ]),
  queryFn: () =>
    unwrap(
      client.POST('/api/studies/{study_id}/answer/first-table', {
        params: { path: { study_id: study.value.id } },
        body: {
          dataset: dataset.value.id,
          question: answer.value.question,
          within: within.value,
          numbers: numbers.value,
          tests: tests.value,
        },
      }),
    ),
  placeholderData: (previous) => previous,
})
const table = computed(() => found.data.value)

const lines = computed(() => (table.value ? linesOf(table.value) : undefined))
</script>

<template>
  <p class="choices">
    <label
      >Percentages within
      <select v-model="within">
        <option value="outcome">each answer to the outcome</option>
        <option value="characteristic">each characteristic</option>
      </select></label
    >
    <label
      >Numbers as
      <select v-model="numbers">
        <option value="mean">mean (standard deviation)</option>
        <option value="median">median (quartiles)</option>
      </select></label
    >
    <label><input v-model="tests" type="checkbox" /> with tests</label>
    <button class="act" @click="copyTable(place, lines)">
      {{ wasCopied ? 'Copied' : 'Copy the table' }}
    </button>
  </p>
  <ErrorNote :error="found.error.value" />
  <div v-if="table" class="scroll">
    <table ref="place" class="plain">
      <thead>
        <tr>
          <th scope="col">{{ table.outcome }}</th>
          <th v-for="column in table.columns" :key="column.label" scope="col">
            {{ column.label }}<br />{{ headInWords(column, table.weighted) }}
          </th>
          <th v-if="tests" scope="col">p</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="(line, i) in table.lines" :key="`${line.variable} ${line.level}`">
          <tr v-if="line.level !== null && table.lines[i - 1]?.variable !== line.variable">
            <th scope="row" class="title">
              {{ line.title
              }}<small v-if="line.n_missing" class="quiet">
                · {{ plural(line.n_missing, 'no answer', 'no answers') }}</small
              >
            </th>
            <td :colspan="table.columns.length"></td>
            <td v-if="tests" :title="line.test ?? ''">
              {{ line.p === null ? '' : pValue(line.p) }}
            </td>
          </tr>
          <tr>
            <th scope="row" :class="line.level === null ? 'title' : 'level'">
              {{ line.level ?? line.title
              }}<small v-if="line.level === null && line.n_missing" class="quiet">
                · {{ plural(line.n_missing, 'no answer', 'no answers') }}</small
              >
            </th>
            <td v-for="(words, at) in cellsInWords(line)" :key="at">{{ words }}</td>
            <td v-if="tests" :title="line.test ?? ''">
              {{ line.level === null && line.p !== null ? pValue(line.p) : '' }}
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
  <p v-if="table?.weighted" class="quiet below">
    n counts rows as they are; percentages, means and medians are those of the weighted population{{
      tests ? ', and tests allow for strata and clusters' : ''
    }}.
    <template v-if="tests && numbers === 'median'">Medians have no test with a design.</template>
  </p>
  <p class="quiet">Add characteristics with “+ and” in the sentence, numbers too.</p>
</template>

<style scoped>
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 20px;
  margin-bottom: 8px;
}
select {
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 0;
  border-bottom: 1px solid var(--hairline);
}
.scroll {
  overflow-x: auto;
}
.below {
  margin-top: 8px;
}
.title {
  font-weight: 600;
}
.level {
  padding-left: 14px !important;
}
</style>
