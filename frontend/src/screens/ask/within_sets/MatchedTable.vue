<script setup lang="ts">
/** Odds ratios within sets: by the term alone beside adjusted ones. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { count, limits, pValue, ratio } from '@/design/numbers'
import { interestFirst, roles, wholeTest } from '../answer/modelTerms'

const props = defineProps<{ results: Schemas['MatchedResults'] }>()
const terms = computed(() =>
  interestFirst(props.results.terms).map((term) => ({
    ...term,
    tested: term.rows.length ? wholeTest(term) : { p: null, title: '' },
  })),
)
const hasOthers = computed(() => props.results.terms.length > 1)
const of = (events: number | null, n: number | null) =>
  n === null ? '' : `${count(events ?? 0)} of ${count(n)}`
</script>

<template>
  <div class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">Odds of {{ results.event_label }} within sets</th>
          <th scope="col">with the event</th>
          <th v-if="hasOthers" scope="col">matched only</th>
          <th scope="col">{{ hasOthers ? 'adjusted odds ratio' : 'odds ratio' }}</th>
          <th scope="col">p</th>
        </tr>
      </thead>
      <tbody v-for="term in terms" :key="term.term">
        <tr>
          <th scope="row" class="title" :colspan="hasOthers ? 4 : 3">
            {{ term.title }} <small class="quiet">{{ roles[term.role] }}</small>
            <small v-if="!term.rows.length" class="quiet"> the same within every set</small>
            <small v-else-if="term.holds_at" class="quiet"> where {{ term.holds_at }}</small>
          </th>
          <td :title="term.tested.title">
            {{ term.tested.p === null ? '' : pValue(term.tested.p) }}
          </td>
        </tr>
        <tr
          v-if="
            term.rows.length && term.reference !== null && !term.is_numeric && !term.together_with
          "
        >
          <th scope="row" class="level">
            {{ term.reference }} <small class="quiet">reference</small>
          </th>
          <td>{{ of(term.reference_events, term.reference_n) }}</td>
          <td v-if="hasOthers" class="quiet">1</td>
          <td class="quiet">1</td>
          <td></td>
        </tr>
        <tr v-for="row in term.rows" :key="`${row.given} ${row.label}`">
          <th scope="row" class="level">
            <span v-if="row.given" class="quiet">{{ row.given }}: </span>{{ row.label }}
          </th>
          <td>{{ of(row.events, row.n) }}</td>
          <td v-if="hasOthers">
            <template v-if="row.unadjusted !== null"
              >{{ ratio(row.unadjusted) }}
              <small class="quiet">{{ limits(row.unadjusted_ci) }}</small></template
            >
          </td>
          <td :title="`log odds ${row.log_odds}, standard error ${row.se}`">
            <b>{{ ratio(row.odds_ratio) }}</b>{{ ' '
            }}<small class="quiet">{{ limits(row.ci) }}</small>
          </td>
          <td>{{ pValue(row.p) }}</td>
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
