<script setup lang="ts">
/** The model as a table for a paper: n and events, unadjusted and adjusted odds ratios, p. */
import { computed, ref } from 'vue'

import type { OddsTerm, SurveyTerm } from '@/api/types'
import { count, pValue } from '@/design/numbers'
import { useCopiedTable } from '@/parts/useCopiedTable'
import { limitsOf, ratioOf } from './shareWords'
import { interestFirst, wholeTest } from './terms'

const props = defineProps<{
  terms: readonly (OddsTerm | SurveyTerm)[]
  /** The event and the outcome in words. */
  event: string
  outcome: string
  events: number
  n: number
  confidence: number
  /** How the variables and rows were tested. */
  tests: string
}>()

const place = ref<HTMLTableElement>()
const { wasCopied, copy } = useCopiedTable()
const level = computed(() => `${Number((100 * props.confidence).toFixed(2))}% CI`)
const withLimits = (
  ratio: number | 'Infinity' | null,
  ci: readonly unknown[] | null | undefined,
) => (ratio === null ? '' : `${ratioOf(ratio)} (${limitsOf(ci as never)})`)
const lines = computed(() =>
  interestFirst([...props.terms]).flatMap((term) => [
    {
      label: term.title,
      n: '',
      plain: '',
      adjusted: '',
      p: wholeTest(term).p === null ? '' : pValue(wholeTest(term).p!),
      isTitle: true,
    },
    ...(term.reference === null || term.is_numeric || term.together_with
      ? []
      : [
          {
            label: term.reference,
            n: `${count(term.reference_events ?? 0)}/${count(term.reference_n ?? 0)}`,
            plain: '1 (reference)',
            adjusted: '1 (reference)',
            p: '',
            isTitle: false,
          },
        ]),
    ...term.rows.map((row) => ({
      label: row.given ? `${row.given}: ${row.label}` : row.label,
      n: row.n === null ? '' : `${count(row.events ?? 0)}/${count(row.n)}`,
      plain: withLimits(row.unadjusted, row.unadjusted_ci),
      adjusted: withLimits(row.odds_ratio, row.ci),
      p: pValue(row.p),
      isTitle: false,
    })),
  ]),
)
</script>

<template>
  <div class="scroll">
    <table ref="place" class="plain">
      <caption>
        Odds of
        {{
          event
        }}
        ({{
          outcome
        }}):
        {{
          count(events)
        }}
        of
        {{
          count(n)
        }}
      </caption>
      <thead>
        <tr>
          <th scope="col">Characteristic</th>
          <th scope="col">events/n</th>
          <th scope="col">Unadjusted odds ratio ({{ level }})</th>
          <th scope="col">Adjusted odds ratio ({{ level }})</th>
          <th scope="col">p</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(line, i) in lines" :key="i">
          <th scope="row" :class="{ level: !line.isTitle }">{{ line.label }}</th>
          <td>{{ line.n }}</td>
          <td>{{ line.plain }}</td>
          <td>{{ line.adjusted }}</td>
          <td>{{ line.p }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <p>
    <button class="act" @click="copy(place)">Copy the table</button>
    <span v-if="wasCopied" class="quiet" role="status"> Copied.</span>
  </p>
  <p class="quiet">{{ tests }}</p>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
caption {
  text-align: left;
  color: var(--quiet);
  padding-bottom: 6px;
}
.level {
  padding-left: 14px !important;
  font-weight: 400;
}
</style>
