<script setup lang="ts">
/** Weights fitted to totals that are known of the population, one or several variables at once. */
import { computed, ref } from 'vue'

import type { DataSet, Entry, Study } from '@/api/types'
import { count } from '@/design/numbers'
import { isCategorical, titleOf } from '@/parts/kinds'
import { numberIn } from '@/parts/typed'
import { freeName } from '@/screens/codebook/steps'
import { itemsOf, numericItems } from './design'
import WeightsForm from './WeightsForm.vue'
import { pastedTotals } from './totals'

const props = defineProps<{
  study: Study
  dataset: DataSet
  codebook: Entry[]
  weights?: string
}>()
const emit = defineEmits<{ made: [name: string]; close: [] }>()

const numeric = computed(() => [
  { title: 'each row alike', value: '' },
  ...numericItems(props.codebook),
])
const categorical = computed(() =>
  itemsOf(
    props.codebook.filter(
      ({ variable }) => isCategorical(variable) && variable.categories.length <= 60,
    ),
  ),
)
const base = ref(props.weights ?? '')
const chosen = ref<string[]>([])
const totals = ref<Record<string, Record<string, string>>>({})
const population = ref('')
const bound = ref('')
const suggested = { name: freeName('fitted_weight', props.codebook), label: 'Fitted weight' }

const margins = computed(() =>
  chosen.value.flatMap((each) => {
    const entry = props.codebook.find(({ variable }) => variable.name === each)
    if (!entry) return []
    const counts = entry.summary.kind === 'categories' ? entry.summary.counts : []
    const rows = entry.variable.categories
      .map(({ value, label }, i) => ({ value, label, n: counts[i] ?? 0 }))
      .filter((row) => row.n)
    return [{ variable: each, title: titleOf(entry.variable), rows }]
  }),
)
const typed = (variable: string, value: string) => totals.value[variable]?.[value] ?? ''

function type(variable: string, value: string, text: string) {
  totals.value = {
    ...totals.value,
    [variable]: { ...totals.value[variable], [value]: text },
  }
}

/** Totals pasted as a column, or as labels with numbers, fill all fields of the variable. */
function paste(event: ClipboardEvent, variable: string, from: number) {
  const rows = margins.value.find((margin) => margin.variable === variable)!.rows
  const found = pastedTotals(event.clipboardData?.getData('text') ?? '', rows, from)
  if (!found) return
  event.preventDefault()
  totals.value = { ...totals.value, [variable]: { ...totals.value[variable], ...found } }
}

const problem = computed(() => {
  if (!margins.value.length && !(base.value && population.value.trim()))
    return 'Choose a variable whose totals are known, or weights and what they add up to.'
  for (const { title, variable, rows } of margins.value)
    for (const row of rows) {
      const value = numberIn(typed(variable, row.value))
      if (value === null || value <= 0)
        return `${title}: “${row.label}” needs a count or a share above 0.`
    }
  const size = numberIn(population.value)
  if (population.value.trim() && (size === null || size <= 0))
    return 'The population must be a number above 0, or empty.'
  const most = numberIn(bound.value)
  if (bound.value.trim() && (most === null || most <= 1))
    return 'A weight may change by a factor above 1, or the field stays empty.'
  return undefined
})
const plan = computed(() =>
  problem.value
    ? undefined
    : {
        step: 'rake' as const,
        variable: base.value || null,
        margins: margins.value.map(({ variable, rows }) => ({
          variable,
          totals: Object.fromEntries(
            rows.map(({ value }) => [value, numberIn(typed(variable, value))!]),
          ),
        })),
        population: numberIn(population.value),
        most_change: numberIn(bound.value),
      },
)
</script>

<template>
  <WeightsForm
    v-bind="{ study, dataset, codebook, plan, problem, suggested }"
    @made="emit('made', $event)"
    @close="emit('close')"
  >
    <v-select v-model="base" :items="numeric" label="Starting from" class="part" />
    <v-select
      v-model="chosen"
      :items="categorical"
      label="Totals are known of"
      multiple
      class="part"
    />
    <v-text-field
      v-model="population"
      inputmode="decimal"
      label="Adding up to"
      placeholder="as before"
      class="small"
    />
    <v-text-field
      v-model="bound"
      inputmode="decimal"
      label="Changed at most ×"
      placeholder="any"
      class="small"
    />
    <template #totals>
      <fieldset v-for="margin in margins" :key="margin.variable" class="totals">
        <legend>
          {{ margin.title }} <span class="quiet">counts or shares, pasted or typed</span>
        </legend>
        <label v-for="(row, i) in margin.rows" :key="row.value">
          <span
            >{{ row.label }} <small class="quiet">{{ count(row.n) }} in the sample</small></span
          >
          <input
            :value="typed(margin.variable, row.value)"
            inputmode="decimal"
            :aria-label="`Known total of ${row.label}`"
            @input="type(margin.variable, row.value, ($event.target as HTMLInputElement).value)"
            @paste="paste($event, margin.variable, i)"
          />
        </label>
      </fieldset>
    </template>
  </WeightsForm>
</template>

<style scoped>
.part {
  flex: 0 1 260px;
}
.small {
  flex: 0 0 190px;
}
.totals {
  border: 0;
  padding: 0;
  margin: 0 0 12px;
}
.totals legend {
  padding: 0;
}
.totals label {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 2px 0;
}
.totals input {
  width: 110px;
  text-align: right;
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 1px solid var(--hairline);
}
.totals input:focus {
  outline: none;
  border-color: var(--pine);
}
</style>
