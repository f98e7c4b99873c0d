<script setup lang="ts">
/** Weighted percentages within each group, unweighted counts always beside them. */
import { computed } from 'vue'

import { count, percent } from '@/design/numbers'
import type { Survey } from '@/api/types'

type Table = NonNullable<Survey['table']>

const props = defineProps<{ table: Table; title: string; noun: string }>()
/** The event first, as without the design. */
const order = computed(() => {
  const positions = props.table.columns.map((_, at) => at)
  const isEvent = (at: number) => props.table.event.includes(at)
  return [...positions.filter(isEvent), ...positions.filter((at) => !isEvent(at))]
})
const sum = (counts: number[]) => counts.reduce((all, n) => all + n, 0)

/** Cells that stand out with all cells allowed for. */
function mark(row: number, column: number): string {
  if (props.table.p_adjusted[row]![column]! >= 0.05) return ''
  return props.table.z[row]![column]! > 0 ? '▲' : '▼'
}

/** Twice the usual limit is shaded deeper, as in the mosaic. */
function shade(row: number, column: number): string {
  const { z } = props.table
  if (!mark(row, column)) return ''
  return `${z[row]![column]! > 0 ? 'more' : 'less'}-${Math.abs(z[row]![column]!) > 4 ? 2 : 1}`
}

function told(row: number, column: number): string {
  const { z, p_adjusted, share_se, unweighted_share_within_row } = props.table
  return (
    `z ${z[row]![column]!.toFixed(2)}, p ${p_adjusted[row]![column]!.toPrecision(2)} with all ` +
    `cells allowed for; standard error ${share_se[row]![column]!.toFixed(4)}; ` +
    `unweighted ${percent(unweighted_share_within_row[row]![column]!)}`
  )
}
</script>

<template>
  <div>
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">{{ title }}</th>
            <th v-for="j in order" :key="j" scope="col">{{ table.columns[j] }}</th>
            <th scope="col">n, unweighted</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, i) in table.rows" :key="row">
            <th scope="row">{{ row }}</th>
            <td v-for="j in order" :key="j" :class="shade(i, j)" :title="told(i, j)">
              {{ percent(table.share_within_row[i]![j]!) }}
              <span class="mark">{{ mark(i, j) }}</span>
              <small class="quiet">{{ count(table.counts[i]![j]!) }}</small>
            </td>
            <td class="quiet">{{ count(sum(table.counts[i]!)) }}</td>
          </tr>
          <tr class="quiet">
            <th scope="row">All {{ noun }}</th>
            <td v-for="j in order" :key="j">
              {{ percent(table.share_of_all[j]!) }} <span class="mark"></span>
              <small>{{ count(sum(table.counts.map((row) => row[j]!))) }}</small>
            </td>
            <td>{{ count(sum(table.counts.flat())) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="quiet">
      % within {{ title }}, weighted; small figures are unweighted counts. ▲ more and ▼ fewer than
      if the two were unrelated: design-based z with all cells allowed for (Holm, 5%).
    </p>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
small {
  display: inline-block;
  min-width: 34px;
}
.mark {
  display: inline-block;
  width: 14px;
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
[class^='more'] .mark {
  color: var(--more-ink);
}
[class^='less'] .mark {
  color: var(--less-ink);
}
[class^='more'] small,
[class^='less'] small {
  color: var(--ink);
}
</style>
