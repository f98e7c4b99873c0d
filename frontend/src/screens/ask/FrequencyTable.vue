<script setup lang="ts">
/** Answers with counts and shares, those missing by reason under them, and totals. */
import { computed, ref } from 'vue'

import type { Distribution } from '@/api/types'
import { count } from '@/design/numbers'

const props = defineProps<{ variable: Distribution; confidence: number }>()

const FEW = 14
const byCount = ref(false)
const showsAll = ref(false)
const hasOrder = computed(
  () => props.variable.kind === 'ordinal' || props.variable.kind === 'numeric',
)
const isCumulative = computed(() => hasOrder.value && !byCount.value)
const rows = computed(() =>
  byCount.value
    ? [...props.variable.table].sort((a, b) => b.count - a.count)
    : props.variable.table,
)
const shown = computed(() => (showsAll.value ? rows.value : rows.value.slice(0, FEW)))
const missing = computed(() => props.variable.missing_breakdown.filter((row) => row.count > 0))
const fit = computed(() => props.variable.goodness_of_fit)
const one = (value: number) => value.toFixed(1)

function fitted(value: string) {
  const at = fit.value?.values.indexOf(value) ?? -1
  if (!fit.value || at < 0) return undefined
  const residual = fit.value.standardized_residuals[at]!
  const stands = fit.value.standardized_residuals_p_holm[at]! < 0.05
  return {
    expected: fit.value.expected_counts[at]!,
    residual,
    mark: stands ? (residual > 0 ? '▲' : '▼') : '',
    side: stands ? (residual > 0 ? 'more' : 'less') : '',
  }
}
</script>

<template>
  <div class="frequencies">
    <p v-if="variable.table.length > 2" class="order">
      <span class="quiet">Sorted by</span>
      <button class="act" :aria-pressed="!byCount" @click="byCount = false">
        {{ variable.kind === 'numeric' ? 'size' : 'the codebook' }}
      </button>
      <button class="act" :aria-pressed="byCount" @click="byCount = true">count</button>
    </p>
    <div class="scroll">
      <table>
        <thead>
          <tr>
            <th scope="col" class="label">{{ variable.title }}</th>
            <th scope="col">count</th>
            <th scope="col">% of all</th>
            <th scope="col">% of those who answered</th>
            <th
              v-if="isCumulative"
              scope="col"
              title="Share of those who answered this or anything before it"
            >
              up to here
            </th>
            <th scope="col">{{ 100 * confidence }}% interval</th>
            <template v-if="fit">
              <th scope="col">expected</th>
              <th scope="col">residual</th>
            </template>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in shown" :key="row.value">
            <th scope="row" class="label">{{ row.label }}</th>
            <td>{{ count(row.count) }}</td>
            <td class="quiet">{{ one(row.percent_of_all) }}</td>
            <td class="main" :title="String(row.percent_of_answered)">
              {{ one(row.percent_of_answered) }}
            </td>
            <td v-if="isCumulative">{{ one(row.cumulative_percent_of_answered ?? 0) }}</td>
            <td class="quiet">{{ one(row.ci[0]) }} to {{ one(row.ci[1]) }}</td>
            <template v-if="fit">
              <template v-if="fitted(row.value)">
                <td>{{ one(fitted(row.value)!.expected) }}</td>
                <td :class="fitted(row.value)!.side">
                  {{ fitted(row.value)!.mark }}
                  {{ one(fitted(row.value)!.residual).replace('-', '−') }}
                </td>
              </template>
              <td v-else colspan="2" class="quiet">none expected</td>
            </template>
          </tr>
          <tr v-if="rows.length > FEW" class="more">
            <td colspan="8">
              <button class="act" @click="showsAll = !showsAll">
                {{ showsAll ? `Only the first ${FEW}` : `All ${count(rows.length)}` }}
              </button>
            </td>
          </tr>
          <tr class="total">
            <th scope="row" class="label">answered</th>
            <td>{{ count(variable.n_answered) }}</td>
            <td>{{ one(100 - variable.percent_missing_of_all) }}</td>
            <td>100.0</td>
            <td v-if="isCumulative"></td>
            <td></td>
            <td v-if="fit" colspan="2"></td>
          </tr>
        </tbody>
        <tbody v-if="missing.length" class="missing">
          <tr v-for="row in missing" :key="row.code">
            <th scope="row" class="label">
              {{ row.label || 'no answer' }}<small v-if="row.code"> “{{ row.code }}”</small>
            </th>
            <td>{{ count(row.count) }}</td>
            <td>{{ one(row.percent_of_all) }}</td>
            <td colspan="5"></td>
          </tr>
          <tr>
            <th scope="row" class="label">all</th>
            <td>{{ count(variable.n_all) }}</td>
            <td>100.0</td>
            <td colspan="5"></td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped>
.order {
  display: flex;
  gap: 12px;
  margin-bottom: 4px;
  font-size: 0.93rem;
}
.order .act[aria-pressed='true'] {
  color: var(--ink);
  border-bottom: 2px solid var(--pine);
}
.scroll {
  overflow-x: auto;
}
table {
  border-collapse: collapse;
}
th,
td {
  padding: 3px 0 3px 16px;
  text-align: right;
  font-weight: 400;
  white-space: nowrap;
}
thead th {
  border-bottom: 1px solid var(--ink);
  color: var(--quiet);
  font-size: 0.83rem;
  vertical-align: bottom;
  white-space: normal;
  max-width: 92px;
  line-height: 1.2;
}
.label {
  text-align: left;
  padding-left: 0;
  max-width: 230px;
  overflow: hidden;
  text-overflow: ellipsis;
}
thead .label {
  max-width: 230px;
}
tbody tr + tr > * {
  border-top: 1px solid var(--hairline);
}
.main {
  font-weight: 600;
}
.total > * {
  border-top: 1px solid var(--ink) !important;
}
.missing {
  color: var(--quiet);
}
.missing tr:first-child > * {
  border-top: 1px solid var(--hairline);
}
.more td {
  text-align: left;
  padding-left: 0;
}
.less {
  color: var(--less-ink);
}
td.more {
  color: var(--more-ink);
  padding-left: 16px;
  text-align: right;
}
</style>
