<script setup lang="ts">
/** Weighted percentages within each group, unweighted counts always beside them. */
import { count, percent } from '@/design/numbers'
import type { Survey } from '@/api/types'

type Table = NonNullable<Survey['table']>

const props = defineProps<{ table: Table }>()

/** Cells that stand out with all cells allowed for. */
function mark(row: number, column: number): string {
  if (props.table.p_adjusted[row]![column]! >= 0.05) return ''
  return props.table.z[row]![column]! > 0 ? '▲' : '▼'
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
  <div class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">% within each group, weighted</th>
          <th v-for="column in table.columns" :key="column" scope="col">{{ column }}</th>
          <th scope="col">n, unweighted</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, i) in table.rows" :key="row">
          <th scope="row">{{ row }}</th>
          <td
            v-for="(column, j) in table.columns"
            :key="column"
            :class="{ more: mark(i, j) === '▲', less: mark(i, j) === '▼' }"
            :title="told(i, j)"
          >
            {{ mark(i, j) }} {{ percent(table.share_within_row[i]![j]!) }}
            <small class="quiet">{{ count(table.counts[i]![j]!) }}</small>
          </td>
          <td>{{ count(table.counts[i]!.reduce((sum, n) => sum + n, 0)) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <p class="quiet">
    ▲ more and ▼ fewer than if the two were unrelated: design-based z with all cells allowed for
    (Holm, 5%). Small figures are unweighted counts.
  </p>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
  margin-top: 14px;
}
.more {
  background: var(--more-1);
}
.less {
  background: var(--less-1);
}
.more small,
.less small {
  color: var(--ink);
}
</style>
