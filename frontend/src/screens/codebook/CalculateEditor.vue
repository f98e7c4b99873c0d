<script setup lang="ts">
/** A number from several variables of the same row: sum, mean, count or difference. */
import { computed, ref } from 'vue'

import type { Entry, Kind, Step } from '@/api/types'
import { canBeAsked, isCategorical, titleOf } from '@/parts/kinds'
import { matching } from '@/parts/search'
import MakeForm from './MakeForm.vue'
import { freeName } from './steps'

type How = 'sum' | 'mean' | 'count' | 'difference'

const props = defineProps<{ entry: Entry; codebook: Entry[] }>()
const emit = defineEmits<{ step: [step: Step]; close: [] }>()

const hows: Record<How, string> = {
  count: 'how many have one of these answers',
  sum: 'sum',
  mean: 'mean',
  difference: 'first minus second',
}
const how = ref<How>(isCategorical(props.entry.variable) ? 'count' : 'sum')
const chosen = ref<string[]>([props.entry.variable.name])
const values = ref<string[]>([...props.entry.variable.event])
const atLeast = ref('')
const typed = ref('')
const name = ref(freeName('score', props.codebook))
const label = ref('Score')

const candidates = computed(() => {
  const fitting = props.codebook.filter(({ variable }) =>
    how.value === 'count' ? canBeAsked(variable) : holdsNumbers(variable.categories, variable.kind),
  )
  return matching(fitting, typed.value, ({ variable }) => [titleOf(variable), variable.name])
})
const answers = computed(() => {
  const found = new Map<string, string>()
  for (const { variable } of props.codebook)
    if (chosen.value.includes(variable.name))
      for (const { value, label } of variable.categories)
        if (!found.has(value)) found.set(value, label)
  return [...found]
})
const problem = computed(() => {
  if (how.value === 'difference' && chosen.value.length !== 2) return 'Choose two variables.'
  if (chosen.value.length < 2) return 'Choose at least two variables.'
  if (how.value === 'count' && !values.value.length) return 'Choose the answers to count.'
  const least = Number(atLeast.value || 1)
  if (!Number.isInteger(least) || least < 1 || least > chosen.value.length)
    return `Answered: a whole number from 1 to ${chosen.value.length}.`
  return undefined
})

function holdsNumbers(categories: Entry['variable']['categories'], kind: Kind): boolean {
  if (kind === 'numeric') return true
  return (
    isCategorical({ kind }) &&
    categories.length > 0 &&
    categories.every(({ value }) => !isNaN(Number(value)))
  )
}

function make() {
  emit('step', {
    step: 'calculate',
    how: how.value,
    variables: chosen.value,
    name: name.value.trim(),
    label: label.value.trim(),
    values: how.value === 'count' ? values.value : [],
    at_least: atLeast.value ? Number(atLeast.value) : null,
  })
}
</script>

<template>
  <MakeForm
    v-model:name="name"
    v-model:label="label"
    action="Make the calculated variable"
    :problem="problem"
    @make="make"
    @close="emit('close')"
  >
    <fieldset class="hows">
      <legend class="visually-hidden">What is calculated</legend>
      <label v-for="(words, key) in hows" :key="key"
        ><input v-model="how" type="radio" :value="key" /> {{ words }}</label
      >
    </fieldset>
    <input
      v-model="typed"
      class="find"
      placeholder="Of which variables?"
      aria-label="Find variables"
    />
    <fieldset class="list">
      <legend class="visually-hidden">Variables</legend>
      <label v-for="{ variable } in candidates" :key="variable.name"
        ><input v-model="chosen" type="checkbox" :value="variable.name" />
        {{ titleOf(variable) }}</label
      >
    </fieldset>
    <fieldset v-if="how === 'count' && answers.length" class="list short">
      <legend class="quiet">Counting these answers</legend>
      <label v-for="[value, words] in answers" :key="value"
        ><input v-model="values" type="checkbox" :value="value" /> {{ words }}</label
      >
    </fieldset>
    <label v-if="how !== 'difference'" class="least"
      >missing unless at least
      <input v-model="atLeast" inputmode="numeric" :placeholder="String(chosen.length)" /> of
      {{ chosen.length }} are answered</label
    >
  </MakeForm>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
  display: grid;
}
.list {
  max-height: 170px;
  overflow-y: auto;
  border: 1px solid var(--hairline);
  border-radius: 6px;
  padding: 4px 8px;
}
.list.short {
  max-height: 110px;
}
.find,
.least input {
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 1px solid var(--hairline);
  padding: 3px 2px;
}
.least input {
  width: 44px;
  text-align: right;
}
input[type='radio'],
input[type='checkbox'] {
  accent-color: var(--pine);
}
</style>
