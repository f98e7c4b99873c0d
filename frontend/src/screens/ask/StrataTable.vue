<script setup lang="ts">
/** The outcome within each group, side by side: shares of those who answered, or summaries. */
import { computed } from 'vue'

import type { Stratum } from '@/api/types'
import { count, short } from '@/design/numbers'

const props = defineProps<{ strata: readonly Stratum[]; title: string }>()

const groups = computed(() =>
  props.strata.map((stratum) => ({ label: stratum.label, found: stratum.variables[0]! })),
)
const isNumeric = computed(() => groups.value[0]?.found.kind === 'numeric')
const answers = computed(() => groups.value[0]?.found.table ?? [])
const one = (value: number) => value.toFixed(1)

const summaries = computed(() => {
  const of = (label: string, take: (found: (typeof groups.value)[0]['found']) => string) => ({
    label,
    cells: groups.value.map(({ found }) => take(found)),
  })
  const or = (value: number | null | undefined) => (value == null ? '—' : short(value))
  return [
    of('answered', (found) => count(found.n_answered)),
    of('mean', (found) => or(found.summary?.mean)),
    of('standard deviation', (found) => or(found.summary?.sd)),
    of('median', (found) => or(found.summary?.median)),
    of('lower quartile', (found) => or(found.summary?.q1)),
    of('upper quartile', (found) => or(found.summary?.q3)),
  ]
})
</script>

<template>
  <section class="strata" :aria-label="`${title} within each group`">
    <h3 class="overline">
      {{ title }} within each group{{ isNumeric ? '' : ', % of those who answered' }}
    </h3>
    <div class="scroll">
      <table>
        <thead>
          <tr>
            <th></th>
            <th v-for="group in groups" :key="group.label" scope="col">{{ group.label }}</th>
          </tr>
        </thead>
        <tbody v-if="isNumeric">
          <tr v-for="row in summaries" :key="row.label">
            <th scope="row">{{ row.label }}</th>
            <td v-for="(cell, i) in row.cells" :key="i">{{ cell }}</td>
          </tr>
        </tbody>
        <tbody v-else>
          <tr v-for="(answer, i) in answers" :key="answer.value">
            <th scope="row">{{ answer.label }}</th>
            <td
              v-for="group in groups"
              :key="group.label"
              :title="`${count(group.found.table[i]?.count ?? 0)} of ${count(group.found.n_answered)}; interval ${one(group.found.table[i]?.ci[0] ?? 0)} to ${one(group.found.table[i]?.ci[1] ?? 0)}`"
            >
              <template v-if="group.found.table[i]"
                >{{ one(group.found.table[i]!.percent_of_answered) }}
                <small class="quiet"
                  >{{ one(group.found.table[i]!.ci[0]) }} to
                  {{ one(group.found.table[i]!.ci[1]) }}</small
                ></template
              ><template v-else>—</template>
            </td>
          </tr>
          <tr class="n">
            <th scope="row">answered</th>
            <td v-for="group in groups" :key="group.label">{{ count(group.found.n_answered) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
table {
  border-collapse: collapse;
}
th,
td {
  padding: 3px 0 3px 18px;
  text-align: right;
  font-weight: 400;
}
tbody th,
th:first-child {
  text-align: left;
  padding-left: 0;
  max-width: 230px;
}
thead th {
  border-bottom: 1px solid var(--ink);
  color: var(--quiet);
  font-size: 0.83rem;
  max-width: 120px;
  vertical-align: bottom;
  line-height: 1.2;
}
tbody tr + tr > * {
  border-top: 1px solid var(--hairline);
}
.n {
  color: var(--quiet);
}
</style>
