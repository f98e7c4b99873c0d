<script setup lang="ts">
/** Many variables at once, one line each: how answered, what is missing, equal shares or not. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import type { DataSet, Study } from '@/api/types'
import { count, freedom, oneDecimal, pValue, short, statistic, two } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'
import { matching } from '@/parts/search'
import { parseRatios } from '@/parts/typed'
import { emptyQuestion } from '../words'

const props = defineProps<{ study: Study; dataset: DataSet }>()
const emit = defineEmits<{ ask: [variable: string]; close: [] }>()

type Order = 'codebook' | 'missing' | 'departure'
const order = ref<Order>('codebook')
const typed = ref('')
const adjusted = ref<'p_holm' | 'p_benjamini_hochberg'>('p_holm')
const ratios = ref('')
const shares = computed(() => {
  const parts = parseRatios(ratios.value).map(Number)
  return parts.length ? parts.map((part) => (Number.isNaN(part) ? 0 : part)) : null
})
const found = useQuery({
  queryKey: computed(() => [
    'study',
    props.study.id,
    'glance',
    props.dataset.id,
    props.dataset.version,
    shares.value,
  ]),
  queryFn: ({ signal }) =>
    unwrap(
      client.POST('/api/studies/{study_id}/answer/at-a-glance', {
        params: { path: { study_id: props.study.id } },
        body: {
          dataset: props.dataset.id,
          question: emptyQuestion({ counted_by: props.dataset.counted_by }),
          variables: null,
          shares: shares.value,
        },
        signal,
      }),
    ),
  staleTime: Infinity,
})
const isWeighted = computed(() => props.dataset.counted_by.kind === 'design')
type Glance = NonNullable<typeof found.data.value>[number]
const rows = computed(() => {
  const all = matching(found.data.value ?? [], typed.value, (row) => [row.title, row.variable])
  const by: Record<Order, (row: Glance) => number> = {
    codebook: () => 0,
    missing: (row) => -row.percent_missing,
    departure: (row) => -(row.cohens_w ?? -1),
  }
  return [...all].sort((a, b) => by[order.value](a) - by[order.value](b))
})

function told(row: Glance): string {
  if (row.quartiles)
    return `median ${short(row.middle!)}, middle half ${short(row.quartiles[0])} to ${short(row.quartiles[1])}`
  return row.commonest == null
    ? 'no answers'
    : `${row.commonest} ${oneDecimal(row.percent_commonest!)}%`
}
</script>

<template>
  <v-dialog
    :model-value="true"
    max-width="1120"
    scrollable
    aria-label="All variables at a glance"
    @update:model-value="emit('close')"
  >
    <div class="popover glance">
      <div class="head">
        <h2 class="serif">All variables at a glance</h2>
        <input
          v-model="typed"
          class="find"
          placeholder="Find a variable"
          aria-label="Find a variable"
        />
        <input
          v-model.lazy="ratios"
          class="find"
          placeholder="Stated shares, 50 : 30 : 20"
          aria-label="Stated shares in order of the categories"
          title="Tested for every variable with as many categories; blank tests equal shares"
        />
        <button class="act" @click="emit('close')">Close</button>
      </div>
      <p v-if="isWeighted" class="quiet sorted">
        Weighted, with the design of the sample in the tests; answered and missing count
        {{ dataset.noun_many }} as they are.
      </p>
      <p class="sorted">
        <span class="quiet">Sorted by</span>
        <button class="act" :aria-pressed="order === 'codebook'" @click="order = 'codebook'">
          the codebook
        </button>
        <button class="act" :aria-pressed="order === 'missing'" @click="order = 'missing'">
          missing
        </button>
        <button class="act" :aria-pressed="order === 'departure'" @click="order = 'departure'">
          departure from {{ shares ? 'stated' : 'equal' }} shares
        </button>
        <span class="quiet gap">p with all tests allowed for by</span>
        <button class="act" :aria-pressed="adjusted === 'p_holm'" @click="adjusted = 'p_holm'">
          Holm
        </button>
        <button
          class="act"
          :aria-pressed="adjusted === 'p_benjamini_hochberg'"
          @click="adjusted = 'p_benjamini_hochberg'"
        >
          Benjamini–Hochberg
        </button>
      </p>
      <ErrorNote :error="found.error.value" />
      <p v-if="found.isFetching.value" class="quiet" role="status">Counting every variable…</p>
      <div v-else-if="found.data.value" class="scroll">
        <table>
          <thead>
            <tr>
              <th scope="col">Variable</th>
              <th scope="col">answered</th>
              <th scope="col">missing, %</th>
              <th scope="col" class="left">commonest answer, or middle</th>
              <th
                scope="col"
                :title="isWeighted ? 'Rao–Scott, second order' : 'Chi-square, Pearson'"
              >
                {{ shares ? 'stated' : 'equal' }} shares? {{ isWeighted ? 'F' : 'χ²' }}
              </th>
              <th scope="col">df</th>
              <th scope="col">p</th>
              <th scope="col">p, adjusted</th>
              <th scope="col" title="Cohen’s w: 0 is equal shares">w</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in rows" :key="row.variable">
              <th scope="row">
                <button class="act" @click="emit('ask', row.variable)">{{ row.title }}</button>
              </th>
              <td>{{ count(row.n_answered) }}</td>
              <td :class="{ much: row.percent_missing > 10 }">
                {{ oneDecimal(row.percent_missing) }}
              </td>
              <td class="left">{{ told(row) }}</td>
              <template v-if="row.test && row.p != null">
                <td :title="row.test.name">{{ statistic(row.test.statistic!) }}</td>
                <td>{{ freedom(row.test.df!) }}</td>
                <td>{{ pValue(row.p) }}</td>
                <td>{{ pValue(row[adjusted] ?? 1) }}</td>
                <td>{{ two(row.cohens_w) }}</td>
              </template>
              <td v-else colspan="5"></td>
            </tr>
          </tbody>
        </table>
      </div>
    </div>
  </v-dialog>
</template>

<style scoped>
.glance {
  padding: 18px 22px;
  display: flex;
  flex-direction: column;
  max-height: 88vh;
}
.head {
  display: flex;
  gap: 20px;
  align-items: baseline;
}
.head h2 {
  margin-right: auto;
}
.find {
  font: inherit;
  color: var(--ink);
  background: transparent;
  border: 0;
  border-bottom: 1px solid var(--hairline);
  padding: 3px 4px;
}
.find:focus {
  border-bottom-color: var(--pine);
  outline: none;
}
.sorted {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  margin: 8px 0 10px;
  font-size: 0.93rem;
}
.gap {
  margin-left: auto;
}
.sorted .act[aria-pressed='true'] {
  color: var(--ink);
  border-bottom: 2px solid var(--pine);
}
.scroll {
  overflow: auto;
}
table {
  border-collapse: collapse;
  width: 100%;
}
th,
td {
  padding: 3px 0 3px 18px;
  text-align: right;
  font-weight: 400;
}
th:first-child,
.left {
  text-align: left;
}
th:first-child {
  padding-left: 0;
}
thead th {
  position: sticky;
  top: 0;
  background: var(--sheet);
  color: var(--quiet);
  font-size: 0.83rem;
  box-shadow: 0 1px 0 var(--ink);
}
tbody tr + tr > * {
  border-top: 1px solid var(--hairline);
}
.much {
  color: var(--care);
  font-weight: 600;
}
</style>
