<script setup lang="ts">
/** Shares within each stratum, pooled comparisons, and shares standardised to one population. */
import { computed, ref, watch } from 'vue'

import type { ProportionsResults, Question } from '@/api/types'
import { count } from '@/design/numbers'
import { limitsOf, pointsOf, ratioOf } from './shareWords'

const props = defineProps<{ results: ProportionsResults; question: Question }>()
const emit = defineEmits<{ change: [question: Question] }>()

const groups = computed(() => props.results.whole.groups)
const typed = ref<Record<string, string>>({})
watch(
  () => props.question.options.standard,
  (standard) => {
    const known = (standard ?? {}) as Record<string, number>
    typed.value = Object.fromEntries(Object.entries(known).map(([k, v]) => [k, String(v)]))
  },
  { immediate: true },
)
const key = (values: readonly string[]) => values.join(' · ')

function cell(stratum: ProportionsResults['strata'][number], value: string) {
  return stratum.groups.find((group) => group.value === value)
}

function standardise() {
  const options = { ...props.question.options } as Record<string, unknown>
  const weights = Object.entries(typed.value).filter(([, text]) => text.trim() !== '')
  if (weights.length)
    options.standard = Object.fromEntries(
      weights.map(([value, text]) => {
        const weight = Number(text.replace(',', '.'))
        return [value, Number.isNaN(weight) ? text : weight]
      }),
    )
  else delete options.standard
  emit('change', { ...props.question, options: options as Question['options'] })
}
</script>

<template>
  <section class="strata" aria-label="Within strata">
    <h3 class="overline">% {{ results.whole.event_label }} within each stratum</h3>
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th></th>
            <th v-for="group in groups" :key="group.value" scope="col">{{ group.label }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="stratum in results.strata" :key="stratum.label">
            <th scope="row">{{ stratum.label }}</th>
            <td v-for="group in groups" :key="group.value">
              <template v-if="cell(stratum, group.value)"
                >{{ (100 * cell(stratum, group.value)!.share).toFixed(1) }}
                <small class="quiet">of {{ count(cell(stratum, group.value)!.n) }}</small></template
              ><span v-else class="quiet">nobody</span>
            </td>
          </tr>
          <tr v-if="results.standardised.length" class="standard">
            <th scope="row">standardised</th>
            <td v-for="each in results.standardised" :key="each.label">
              <template v-if="each.share !== null"
                ><b>{{ (100 * each.share).toFixed(1) }}</b>
                <small class="quiet">{{ limitsOf(each.ci, 100, 1) }}</small></template
              ><span v-else class="quiet" title="A stratum that counts is empty in this group"
                >—</span
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <details v-if="results.standardised.length">
      <summary class="quiet">
        Standardised to {{ question.options.standard ? 'the stated weights' : 'everyone counted' }}
      </summary>
      <form class="weights" @submit.prevent="standardise">
        <label v-for="stratum in results.strata" :key="stratum.label"
          ><span>{{ stratum.label }}</span
          ><input v-model="typed[key(stratum.values)]" inputmode="decimal" placeholder="weight"
        /></label>
        <button class="act" type="submit">Standardise to these weights</button>
      </form>
    </details>
    <table v-if="results.pooled.length" class="plain pooled">
      <thead>
        <tr>
          <th scope="col">Pooled over strata (Mantel–Haenszel)</th>
          <th scope="col">difference, points</th>
          <th scope="col">ratio of shares</th>
          <th scope="col">odds ratio</th>
          <th scope="col">crude odds ratio</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="pair in results.pooled" :key="pair.value">
          <th scope="row">{{ pair.label }}</th>
          <td>
            {{ pointsOf(pair.mantel_haenszel_risk_difference?.estimate) }}
            <small class="quiet">{{
              limitsOf(pair.mantel_haenszel_risk_difference?.sato.ci, 100, 1)
            }}</small>
          </td>
          <td>
            {{ ratioOf(pair.mantel_haenszel_risk_ratio?.estimate) }}
            <small class="quiet">{{ limitsOf(pair.mantel_haenszel_risk_ratio?.ci) }}</small>
          </td>
          <td>
            {{ ratioOf(pair.mantel_haenszel_odds_ratio?.estimate) }}
            <small class="quiet">{{ limitsOf(pair.mantel_haenszel_odds_ratio?.ci) }}</small>
          </td>
          <td>{{ ratioOf(pair.crude_odds_ratio) }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
.standard > * {
  border-top: 1px solid var(--ink) !important;
}
.pooled {
  margin-top: 12px;
}
summary {
  cursor: pointer;
  margin-top: 6px;
}
.weights {
  display: grid;
  gap: 4px;
  max-width: 380px;
  padding: 6px 0;
}
.weights label {
  display: grid;
  grid-template-columns: 1fr 110px;
  gap: 12px;
}
.weights input {
  font: inherit;
  color: var(--ink);
  text-align: right;
  background: transparent;
  border: 0;
  border-bottom: 1px solid var(--hairline);
}
</style>
