<script setup lang="ts">
/** Answers with counts and shares, those missing by reason under them, and totals. */
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/types'
import { count, inField, limits, oneDecimal, two } from '@/design/numbers'
import { useAsking } from '../useAsking'
import FitCells from './FitCells.vue'

type Row = Schemas['FrequencyRow']
const props = defineProps<{ variable: Schemas['VariableDistribution']; rows: readonly Row[] }>()

const FEW = 14
const { answer } = useAsking()
const byCount = ref(false)
const showsAll = ref(false)
const isCumulative = computed(
  () => !byCount.value && props.rows.some((row) => row.cumulative_percent_of_answered !== null),
)
/** Under a design counts are of the sample, and percentages of the population. */
const isWeighted = computed(() => props.rows.some(({ weighted }) => weighted))
const sorted = computed(() =>
  byCount.value ? [...props.rows].sort((a, b) => b.count - a.count) : props.rows,
)
const shown = computed(() => (showsAll.value ? sorted.value : sorted.value.slice(0, FEW)))
const missing = computed(() => props.variable.missing_breakdown.filter((row) => row.count > 0))
const fit = computed(() => props.variable.goodness_of_fit)
const columns = computed(
  () => 5 + Number(isCumulative.value) + 2 * Number(isWeighted.value) + (fit.value ? 2 : 0),
)
const unweighted = ({ weighted: w }: Row) =>
  w ? oneDecimal((100 * w.unweighted_count_of_events) / w.n) : ''
const exactly = ({ percent_of_answered, weighted: w }: Row) =>
  w ? `${percent_of_answered}; standard error ${w.se}` : String(percent_of_answered)
</script>

<template>
  <div class="frequencies">
    <p v-if="rows.length > 2" class="choices">
      <span class="quiet">Sorted by</span>
      <button class="act" :aria-pressed="!byCount" @click="byCount = false">
        {{ variable.kind === 'numeric' ? 'size' : 'the codebook' }}
      </button>
      <button class="act" :aria-pressed="byCount" @click="byCount = true">count</button>
    </p>
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">{{ variable.title }}</th>
            <th scope="col">{{ isWeighted ? 'sampled' : 'count' }}</th>
            <th scope="col">% of all</th>
            <th scope="col">% of those who answered</th>
            <th v-if="isWeighted" scope="col">% unweighted</th>
            <th
              v-if="isCumulative"
              scope="col"
              title="Share of those who answered this or anything before it"
            >
              up to here
            </th>
            <th v-if="isWeighted" scope="col">design effect</th>
            <th scope="col">{{ inField(100 * answer.question.confidence) }}% interval</th>
            <template v-if="fit">
              <th scope="col">expected{{ fit.expected_counts ? '' : ', %' }}</th>
              <th scope="col">{{ fit.expected_counts ? 'residual' : 'z' }}</th>
            </template>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in shown" :key="row.value">
            <th scope="row" :title="row.label">{{ row.label }}</th>
            <td>{{ count(row.count) }}</td>
            <td class="quiet">{{ oneDecimal(row.percent_of_all) }}</td>
            <td class="main" :title="exactly(row)">{{ oneDecimal(row.percent_of_answered) }}</td>
            <td v-if="isWeighted" class="quiet">{{ unweighted(row) }}</td>
            <td v-if="isCumulative">{{ oneDecimal(row.cumulative_percent_of_answered ?? 0) }}</td>
            <td v-if="isWeighted" class="quiet">{{ two(row.weighted?.deff) }}</td>
            <td class="quiet">{{ limits(row.ci, oneDecimal) }}</td>
            <FitCells v-if="fit" :fit="fit" :value="row.value" />
          </tr>
          <tr v-if="rows.length > FEW">
            <td :colspan="columns" class="left">
              <button class="act" @click="showsAll = !showsAll">
                {{ showsAll ? `Only the first ${FEW}` : `All ${count(rows.length)}` }}
              </button>
            </td>
          </tr>
          <tr class="of-all">
            <th scope="row">answered</th>
            <td>{{ count(variable.n_answered) }}</td>
            <td>{{ oneDecimal(100 - variable.percent_missing_of_all) }}</td>
            <td>{{ oneDecimal(100) }}</td>
            <td :colspan="columns - 4"></td>
          </tr>
        </tbody>
        <tbody v-if="missing.length" class="quiet">
          <tr v-for="row in missing" :key="row.code">
            <th scope="row">
              {{ row.label || 'no answer' }}<small v-if="row.code"> “{{ row.code }}”</small>
            </th>
            <td>{{ count(row.count) }}</td>
            <td>{{ oneDecimal(row.percent_of_all) }}</td>
            <td :colspan="columns - 3"></td>
          </tr>
          <tr>
            <th scope="row">all</th>
            <td>{{ count(variable.n_all) }}</td>
            <td>{{ oneDecimal(100) }}</td>
            <td :colspan="columns - 3"></td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped>
.choices {
  margin-bottom: 4px;
  font-size: 0.93rem;
}
thead th:not(:first-child) {
  max-width: 92px;
}
th:first-child {
  max-width: 230px;
  overflow: hidden;
  text-overflow: ellipsis;
}
.main {
  font-weight: 600;
}
</style>
