<script setup lang="ts">
/** Answers with their weighted shares, those without an answer by reason under them. */
import { computed, ref } from 'vue'

import type { Survey } from '@/api/types'
import { count, percent } from '@/design/numbers'
import WeightedShareCells from './WeightedShareCells.vue'
import { fixed } from './shareWords'

const props = defineProps<{
  shares: Survey['shares']
  frequencies?: Survey['frequencies']
  fit?: Survey['goodness_of_fit']
}>()

const FEW = 14
const showsAll = ref(false)
const cumulative = computed(() => props.frequencies?.cumulative ?? [])
const missing = computed(() => props.frequencies?.missing.filter(({ n }) => n > 0) ?? [])
const rows = computed(() =>
  props.shares.map((share, i) => ({
    share,
    upTo: cumulative.value[i],
    fitted: fitted(share.value),
  })),
)
const shown = computed(() => (showsAll.value ? rows.value : rows.value.slice(0, FEW)))
/** Columns after the weighted share. */
const after = computed(() => 1 + Number(cumulative.value.length > 0) + 2 * Number(!!props.fit))

function fitted(value: string) {
  const at = props.fit?.values.indexOf(value) ?? -1
  if (!props.fit || at < 0) return undefined
  const z = props.fit.z[at]!
  const stands = props.fit.p_adjusted[at]! < 0.05
  return {
    expected: props.fit.expected_shares[at]!,
    z: fixed(z, 1),
    mark: stands ? (z > 0 ? '▲' : '▼') : '',
    side: stands ? (z > 0 ? 'more' : 'less') : '',
  }
}
</script>

<template>
  <div class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">Answer</th>
          <th scope="col">n, unweighted</th>
          <th scope="col">unweighted</th>
          <th scope="col">weighted share</th>
          <th scope="col" title="Design effect: variance against a simple random sample">
            design effect
          </th>
          <th
            v-if="cumulative.length"
            scope="col"
            title="Weighted share of this answer or anything before it"
          >
            up to here
          </th>
          <template v-if="fit">
            <th scope="col">expected</th>
            <th scope="col" title="Distance from the expected share in design-based errors">z</th>
          </template>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ share, upTo, fitted: against } in shown" :key="share.value">
          <th scope="row">{{ share.label }}</th>
          <td>{{ count(share.unweighted_count_of_events) }}</td>
          <td class="quiet">{{ percent(share.unweighted) }}</td>
          <WeightedShareCells :share="share" />
          <td v-if="cumulative.length">{{ percent(upTo ?? 0) }}</td>
          <template v-if="fit">
            <template v-if="against">
              <td>{{ percent(against.expected) }}</td>
              <td :class="against.side">{{ against.mark }} {{ against.z }}</td>
            </template>
            <td v-else colspan="2" class="quiet">none expected</td>
          </template>
        </tr>
        <tr v-if="rows.length > FEW">
          <td colspan="8" class="more-rows">
            <button class="act" @click="showsAll = !showsAll">
              {{ showsAll ? `Only the first ${FEW}` : `All ${count(rows.length)}` }}
            </button>
          </td>
        </tr>
      </tbody>
      <tbody v-if="frequencies && missing.length" class="quiet">
        <tr class="answered">
          <th scope="row">answered</th>
          <td>{{ count(shares[0]?.n ?? 0) }}</td>
          <td></td>
          <td>{{ percent(frequencies.share_answered) }} of all</td>
          <td :colspan="after"></td>
        </tr>
        <tr v-for="row in missing" :key="row.code">
          <th scope="row">
            {{ row.label || 'no answer' }}<small v-if="row.code"> “{{ row.code }}”</small>
          </th>
          <td>{{ count(row.n) }}</td>
          <td></td>
          <td>{{ percent(row.share_of_all) }} of all</td>
          <td :colspan="after"></td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
small {
  white-space: nowrap;
}
.answered > * {
  border-top: 1px solid var(--ink);
}
.more-rows {
  text-align: left !important;
}
.more {
  color: var(--more-ink);
}
.less {
  color: var(--less-ink);
}
</style>
