<script setup lang="ts">
/** The event's weighted share in every group beside the unweighted one, and how groups compare. */
import { computed } from 'vue'

import type { Survey } from '@/api/types'
import { count, percent, pValue } from '@/design/numbers'
import WeightedShareCells from './WeightedShareCells.vue'
import { limitsOf, pointsOf, ratioOf, underTitle } from './shareWords'

const props = defineProps<{
  shares: Survey['shares']
  comparisons?: Survey['comparisons']
  trend?: Survey['trend']
  /** Of the groups; labels that begin with it need not repeat it. */
  title?: string
}>()
const pOf = (p: number | null) => (p === null ? '—' : pValue(p))
const hasComparisons = computed(() => !!props.comparisons?.length)
const rows = computed(() =>
  props.shares.map((share) => ({
    share,
    against: props.comparisons?.find((each) => each.value === share.value),
  })),
)
</script>

<template>
  <div class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">{{ title ?? 'Group' }}</th>
          <th scope="col">events of n, unweighted</th>
          <th scope="col">unweighted</th>
          <th scope="col">weighted share</th>
          <th scope="col" title="Design effect: variance against a simple random sample">
            design effect
          </th>
          <template v-if="hasComparisons">
            <th scope="col">difference, points</th>
            <th scope="col">ratio of shares</th>
            <th scope="col">odds ratio</th>
            <th scope="col">p</th>
          </template>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ share, against } in rows" :key="share.value">
          <th scope="row">
            {{ title ? underTitle(share.label, title) : share.label }}
            <small v-if="hasComparisons && !against" class="quiet">reference</small>
          </th>
          <td>{{ count(share.unweighted_count_of_events) }} of {{ count(share.n) }}</td>
          <td class="quiet">{{ percent(share.unweighted) }}</td>
          <WeightedShareCells :share="share" />
          <template v-if="hasComparisons">
            <td>
              <template v-if="against">
                {{ pointsOf(against.risk_difference.estimate) }}
                <small class="quiet below">{{
                  limitsOf(against.risk_difference.ci, 100, 1)
                }}</small>
              </template>
            </td>
            <td>
              <template v-if="against?.risk_ratio">
                {{ ratioOf(against.risk_ratio.estimate) }}
                <small class="quiet below">{{ limitsOf(against.risk_ratio.ci) }}</small>
              </template>
            </td>
            <td>
              <template v-if="against?.odds_ratio">
                {{ ratioOf(against.odds_ratio.estimate) }}
                <small class="quiet below">{{ limitsOf(against.odds_ratio.ci) }}</small>
              </template>
            </td>
            <td
              :title="against?.risk_difference.p === null ? 'Nothing tells how much it varies' : ''"
            >
              {{ against ? pOf(against.risk_difference.p) : '' }}
            </td>
          </template>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-if="trend" class="quiet">
    Along the order of the groups the odds change by
    <b>{{ ratioOf(trend.odds_ratio) }}</b> per step ({{ limitsOf(trend.ci) }}, p
    {{ pValue(trend.p) }}), from the model with the number of the group.
  </p>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
small {
  white-space: nowrap;
}
table.plain th,
table.plain td {
  padding-left: 12px;
}
table.plain th:first-child {
  padding-left: 0;
  min-width: 90px;
}
.below {
  display: block;
}
</style>
