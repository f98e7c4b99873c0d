<script setup lang="ts">
/** An odds ratio for each answer against the base: a column for each answer. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { count, limits, pEquals, pValue, ratio } from '@/design/numbers'
import { interestFirst, roles, wholeTest } from '../answer/modelTerms'

const props = defineProps<{ results: Schemas['EveryAnswerResults'] }>()
const terms = computed(() =>
  interestFirst(props.results.terms).map((term) => ({ ...term, tested: wholeTest(term) })),
)
const others = computed(() => props.results.answers.slice(1))
const base = computed(() => props.results.answers[0]!.label)
const hasOthers = computed(() => props.results.terms.length > 1)

function told(each: Schemas['AnswerRatio']) {
  const p = each.p === null ? '' : pEquals(each.p)
  const plain =
    each.unadjusted === null
      ? ''
      : `; unadjusted ${ratio(each.unadjusted)} (${limits(each.unadjusted_ci)})`
  const once = each.unweighted ? `; each row once ${ratio(each.unweighted.odds_ratio)}` : ''
  return `${p}${hasOthers.value ? plain : ''}${once}; log odds ${each.log_odds}, standard error ${each.se}`
}
</script>

<template>
  <div class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">{{ hasOthers ? 'Adjusted odds ratios' : 'Odds ratios' }}</th>
          <th scope="col">n</th>
          <th v-for="answer in others" :key="answer.value" scope="col">
            {{ answer.label }}<br /><small class="quiet">rather than {{ base }}</small>
          </th>
          <th scope="col" title="Of the whole variable over all answers">p</th>
        </tr>
      </thead>
      <tbody v-for="term in terms" :key="term.term">
        <tr>
          <th scope="row" class="title" :colspan="2 + others.length">
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
          <td v-for="answer in others" :key="answer.value" class="quiet">1</td>
          <td></td>
        </tr>
        <tr v-for="row in term.rows" :key="`${row.given} ${row.label}`">
          <th scope="row" class="level">
            <span v-if="row.given" class="quiet">{{ row.given }}: </span>{{ row.label }}
          </th>
          <td>{{ row.n === null ? '' : count(row.n) }}</td>
          <td v-for="each in row.ratios" :key="each.answer ?? ''" :title="told(each)">
            <b>{{ ratio(each.odds_ratio) }}</b>{{ ' '
            }}<small class="quiet">{{ limits(each.ci) }}</small>
          </td>
          <td></td>
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
