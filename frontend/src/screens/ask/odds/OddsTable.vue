<script setup lang="ts">
/** Odds ratios of a model: unadjusted beside adjusted, and the average difference in probability. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { count, limits, points, pValue, ratio } from '@/design/numbers'
import { useAsking } from '../useAsking'
import { interestFirst, roles, wholeTest } from '../answer/modelTerms'

const props = defineProps<{ results: Schemas['OddsResults'] }>()

const { answer } = useAsking()
const terms = computed(() => props.results.whole.terms)
const without = computed(() => props.results.without?.odds_ratios)
const hasOthers = computed(() => terms.value.length > 1)
const hasDifferences = computed(() =>
  terms.value.some(({ rows }) => rows.some(({ difference }) => difference)),
)
const people = computed(() =>
  answer.value.sample ? 'with the event, unweighted' : 'with the event',
)
/** The variables of interest first, each row with its odds ratio without the rows left out. */
const lines = computed(() => {
  let at = 0
  return interestFirst(
    terms.value.map((term) => ({
      ...term,
      tested: wholeTest(term),
      rows: term.rows.map((row) => ({ ...row, without: without.value?.[at++] })),
    })),
  )
})
const once = (row: Schemas['OddsRow']) =>
  row.unweighted
    ? `; each row once ${ratio(row.unweighted.odds_ratio)} (${limits(row.unweighted.ci)})`
    : ''
</script>

<template>
  <div class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">Odds of {{ results.event_label }}</th>
          <th scope="col">{{ people }}</th>
          <th v-if="hasOthers" scope="col">unadjusted</th>
          <th scope="col">{{ hasOthers ? 'adjusted odds ratio' : 'odds ratio' }}</th>
          <th v-if="without" scope="col">without the rows</th>
          <th scope="col">p</th>
          <th
            v-if="hasDifferences"
            scope="col"
            title="Average difference in probability, percentage points"
          >
            difference, points
          </th>
        </tr>
      </thead>
      <tbody v-for="term in lines" :key="term.term">
        <tr>
          <th scope="row" class="title" :colspan="hasOthers ? 3 : 2">
            {{ term.title }} <small class="quiet">{{ roles[term.role] }}</small>
            <small v-if="term.holds_at" class="quiet"> where {{ term.holds_at }}</small>
            <small v-if="term.is_numeric && term.reference" class="quiet">
              against {{ term.reference }}</small
            >
          </th>
          <td></td>
          <td v-if="without"></td>
          <td :title="term.tested.title">
            {{ term.tested.p === null ? '' : pValue(term.tested.p) }}
          </td>
          <td v-if="hasDifferences"></td>
        </tr>
        <tr v-if="term.reference !== null && !term.is_numeric && !term.together_with">
          <th scope="row" class="level">
            {{ term.reference }} <small class="quiet">reference</small>
          </th>
          <td>{{ count(term.reference_events ?? 0) }} of {{ count(term.reference_n ?? 0) }}</td>
          <td v-if="hasOthers" class="quiet">1</td>
          <td class="quiet">1</td>
          <td v-if="without"></td>
          <td></td>
          <td v-if="hasDifferences"></td>
        </tr>
        <tr v-for="row in term.rows" :key="`${row.given} ${row.label}`">
          <th scope="row" class="level">
            <span v-if="row.given" class="quiet">{{ row.given }}: </span>{{ row.label }}
          </th>
          <td>
            <template v-if="row.n !== null"
              >{{ count(row.events ?? 0) }} of {{ count(row.n) }}</template
            >
          </td>
          <td v-if="hasOthers">
            <template v-if="row.unadjusted !== null"
              >{{ ratio(row.unadjusted) }}
              <small class="quiet">{{ limits(row.unadjusted_ci) }}</small></template
            >
          </td>
          <td :title="`log odds ${row.log_odds}, standard error ${row.se}${once(row)}`">
            <b>{{ ratio(row.odds_ratio) }}</b>{{ ' '
            }}<small class="quiet">{{ limits(row.ci) }}</small>
          </td>
          <td v-if="without">{{ ratio(row.without) }}</td>
          <td>{{ pValue(row.p) }}</td>
          <td v-if="hasDifferences">
            <template v-if="row.difference"
              >{{ points(row.difference.estimate) }}
              <small class="quiet">{{ limits(row.difference.ci, points) }}</small></template
            >
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.title {
  font-weight: 600;
}
</style>
