<script setup lang="ts">
/** The model as a table for a paper: n and events, unadjusted and adjusted odds ratios, p. */
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/types'
import { count, inField, limits, pValue, ratio, type Limits, type Ratio } from '@/design/numbers'
import { useCopied } from '@/parts/useCopied'
import { useAsking, useResults } from '../useAsking'
import { interestFirst, wholeTest } from '../answer/modelTerms'

const { answer, titles } = useAsking()
const results = useResults<Schemas['OddsResults']>()
const model = computed(() => results.value.whole)
const place = ref<HTMLTableElement>()
const { wasCopied, copyTable } = useCopied()
const level = computed(() => `${inField(100 * answer.value.question.confidence)}% CI`)
const withLimits = (value: Ratio, ci: Limits) =>
  value == null ? '' : `${ratio(value)} (${limits(ci)})`
/** How the variables and rows were tested. */
const tests = computed(() => {
  const whole = model.value.terms.find(({ test }) => test)?.test?.name ?? 'no test'
  const isFirth = model.value.method === 'firth'
  const ofRow = answer.value.sample ? 't' : isFirth ? 'penalised likelihood-ratio' : 'Wald'
  return `p of a variable: ${whole}; p of a row: ${ofRow} test.`
})
const lines = computed(() =>
  interestFirst(model.value.terms).flatMap((term) => [
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
          results.event_label
        }}
        ({{
          titles.columns
        }}):
        {{
          count(model.events)
        }}
        of
        {{
          count(model.n)
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
    <button class="act" @click="copyTable(place)">Copy the table</button>
    <span v-if="wasCopied" class="quiet" role="status"> Copied.</span>
  </p>
  <p class="quiet">{{ tests }}</p>
</template>

<style scoped>
caption {
  text-align: left;
  color: var(--quiet);
  padding-bottom: 6px;
}
</style>
