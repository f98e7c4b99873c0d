<script setup lang="ts">
/** Odds ratios of a model: unadjusted beside adjusted, and the average difference in probability. */
import { computed } from 'vue'

import type { OddsTerm, SurveyTerm } from '@/api/types'
import { count, pValue } from '@/design/numbers'
import { limitsOf, pointsOf, ratioOf } from './shareWords'
import { interestFirst, wholeTest } from './terms'

const props = defineProps<{
  terms: readonly (OddsTerm | SurveyTerm)[]
  /** The event in words. */
  event: string
  /** What the column of the people is, where it is not simply who was counted. */
  people?: string
  /** Odds ratios without rows left out by choice, in the order of all rows of all terms. */
  without?: readonly (number | 'Infinity')[]
}>()

const hasOthers = computed(() => props.terms.length > 1)
const hasDifferences = computed(() =>
  props.terms.some(({ rows }) => rows.some(({ difference }) => difference)),
)
const roles = { vary_with: 'vary with', allowing_for: 'allowing for' }
/** The variables of interest first, each row with its odds ratio without the rows left out. */
const lines = computed(() => {
  let at = 0
  return interestFirst(
    props.terms.map((term) => ({
      ...term,
      test: wholeTest(term),
      rows: term.rows.map((row) => ({ ...row, without: props.without?.[at++] })),
    })),
  )
})
</script>

<template>
  <div class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">Odds of {{ event }}</th>
          <th scope="col">{{ people ?? 'with the event' }}</th>
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
          <td :title="term.test.title">
            {{ term.test.p === null ? '' : pValue(term.test.p) }}
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
              >{{ ratioOf(row.unadjusted) }}
              <small class="quiet">{{ limitsOf(row.unadjusted_ci) }}</small></template
            >
          </td>
          <td :title="`log odds ${row.log_odds}, standard error ${row.se}`">
            <b>{{ ratioOf(row.odds_ratio) }}</b>{{ ' '
            }}<small class="quiet">{{ limitsOf(row.ci) }}</small>
          </td>
          <td v-if="without">{{ ratioOf(row.without) }}</td>
          <td>{{ pValue(row.p) }}</td>
          <td v-if="hasDifferences">
            <template v-if="row.difference"
              >{{ pointsOf(row.difference.estimate) }}
              <small class="quiet">{{ limitsOf(row.difference.ci, 100, 1) }}</small></template
            >
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
.title {
  font-weight: 600;
}
.level {
  padding-left: 14px !important;
}
</style>
