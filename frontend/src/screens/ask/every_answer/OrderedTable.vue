<script setup lang="ts">
/** One odds ratio for each line: unadjusted beside adjusted, with the answers of each group. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { count, limits, pValue, ratio } from '@/design/numbers'
import { interestFirst, roles, wholeTest } from '../answer/modelTerms'
import SharesBar from './SharesBar.vue'

const props = defineProps<{ results: Schemas['EveryAnswerResults'] }>()
const terms = computed(() =>
  interestFirst(props.results.terms).map((term) => ({ ...term, tested: wholeTest(term) })),
)
const hasOthers = computed(() => props.results.terms.length > 1)
const labels = computed(() => props.results.answers.map(({ label }) => label))
const once = (each: Schemas['AnswerRatio']) =>
  each.unweighted
    ? `; each row once ${ratio(each.unweighted.odds_ratio)} (${limits(each.unweighted.ci)})`
    : ''
</script>

<template>
  <div class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">Odds of a {{ results.downward ? 'lower' : 'higher' }} answer</th>
          <th scope="col">n</th>
          <th scope="col">answers</th>
          <th v-if="hasOthers" scope="col">unadjusted</th>
          <th scope="col">{{ hasOthers ? 'adjusted odds ratio' : 'odds ratio' }}</th>
          <th scope="col">p</th>
        </tr>
      </thead>
      <tbody v-for="term in terms" :key="term.term">
        <tr>
          <th scope="row" class="title" :colspan="hasOthers ? 5 : 4">
            {{ term.title }} <small class="quiet">{{ roles[term.role] }}</small>
            <small v-if="term.holds_at" class="quiet"> where {{ term.holds_at }}</small>
            <small v-if="term.is_numeric && term.reference" class="quiet">
              against {{ term.reference }}</small
            >
          </th>
          <td :title="term.tested.title">
            {{ term.tested.p === null ? '' : pValue(term.tested.p) }}
          </td>
        </tr>
        <tr v-if="term.reference !== null && !term.is_numeric && !term.together_with">
          <th scope="row" class="level">
            {{ term.reference }} <small class="quiet">reference</small>
          </th>
          <td>{{ count(term.reference_n ?? 0) }}</td>
          <td>
            <SharesBar v-if="term.reference_shares" :shares="term.reference_shares" :labels />
          </td>
          <td v-if="hasOthers" class="quiet">1</td>
          <td class="quiet">1</td>
          <td></td>
        </tr>
        <tr v-for="row in term.rows" :key="`${row.given} ${row.label}`">
          <th scope="row" class="level">
            <span v-if="row.given" class="quiet">{{ row.given }}: </span>{{ row.label }}
          </th>
          <td>{{ row.n === null ? '' : count(row.n) }}</td>
          <td><SharesBar v-if="row.shares" :shares="row.shares" :labels /></td>
          <template v-for="each in row.ratios" :key="each.answer ?? ''">
            <td v-if="hasOthers">
              <template v-if="each.unadjusted !== null"
                >{{ ratio(each.unadjusted) }}
                <small class="quiet">{{ limits(each.unadjusted_ci) }}</small></template
              >
            </td>
            <td :title="`log odds ${each.log_odds}, standard error ${each.se}${once(each)}`">
              <b>{{ ratio(each.odds_ratio) }}</b>{{ ' '
              }}<small class="quiet">{{ limits(each.ci) }}</small>
            </td>
            <td>{{ pValue(each.p) }}</td>
          </template>
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
