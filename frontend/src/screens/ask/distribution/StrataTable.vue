<script setup lang="ts">
/** The outcome within each group, side by side: shares of those who answered, or summaries. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { count, limits, oneDecimal, short } from '@/design/numbers'

type Stratum = Schemas['StratumDistribution']
const props = defineProps<{ strata: readonly Stratum[]; title: string }>()

const isNumeric = computed(() => props.strata[0]?.outcome.kind === 'numeric')
const answers = computed(() => props.strata[0]?.outcome.table ?? [])
const cell = ({ outcome }: Stratum, value: string) =>
  outcome.table.find((row) => row.value === value)

const summaries = computed(() => {
  const of = (label: string, take: (outcome: Stratum['outcome']) => string) => ({
    label,
    cells: props.strata.map(({ outcome }) => take(outcome)),
  })
  const or = (value: number | null | undefined) => (value == null ? '—' : short(value))
  return [
    of('answered', (found) => count(found.n_answered)),
    of('mean', (found) => or(found.summary?.mean)),
    of('interval of the mean', (found) => limits(found.summary?.mean_ci, short)),
    of('standard deviation', (found) => or(found.summary?.sd)),
    of('median', (found) => or(found.summary?.median)),
    of('lower quartile', (found) => or(found.summary?.q1)),
    of('upper quartile', (found) => or(found.summary?.q3)),
  ]
})

function told(stratum: Stratum, value: string): string {
  const row = cell(stratum, value)
  if (!row) return ''
  const of = `${count(row.count)} of ${count(stratum.outcome.n_answered)}`
  return row.ci ? `${of}; interval ${limits(row.ci, oneDecimal)}` : of
}
</script>

<template>
  <section class="strata" :aria-label="`${title} within each group`">
    <h3 class="overline">
      {{ title }} within each group{{ isNumeric ? '' : ', % of those who answered' }}
    </h3>
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th></th>
            <th v-for="stratum in strata" :key="stratum.label" scope="col">{{ stratum.label }}</th>
          </tr>
        </thead>
        <tbody v-if="isNumeric">
          <tr v-for="row in summaries" :key="row.label">
            <th scope="row">{{ row.label }}</th>
            <td v-for="(each, i) in row.cells" :key="i">{{ each }}</td>
          </tr>
        </tbody>
        <tbody v-else>
          <tr v-for="{ value, label } in answers" :key="value">
            <th scope="row">{{ label }}</th>
            <td v-for="stratum in strata" :key="stratum.label" :title="told(stratum, value)">
              <template v-if="cell(stratum, value)"
                >{{ oneDecimal(cell(stratum, value)!.percent_of_answered) }}
                <small class="quiet">{{
                  limits(cell(stratum, value)!.ci, oneDecimal)
                }}</small></template
              ><template v-else>—</template>
            </td>
          </tr>
          <tr class="quiet">
            <th scope="row">answered</th>
            <td v-for="stratum in strata" :key="stratum.label">
              {{ count(stratum.outcome.n_answered) }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
thead th {
  max-width: 120px;
}
tbody th {
  max-width: 230px;
}
</style>
