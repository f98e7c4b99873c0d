<script setup lang="ts">
/** Choose the explanatory variable, then the category the others are compared against. */
import { computed, ref } from 'vue'

import type { Entry } from '@/api/types'
import { withinSentence } from '@/parts/kinds'
import VariablePicker from '@/parts/VariablePicker.vue'
import ChoiceList from './ChoiceList.vue'
import TermDetails from './TermDetails.vue'
import type { Term } from './terms'
import { entryOf } from '@/parts/subset/words'

const props = defineProps<{
  codebook: Entry[]
  variable?: string
  reference: string | null
  outcome?: string
  refusal: (entry: Entry) => string | undefined
  /** How it enters a model; undefined where it enters none. */
  term?: Term
  others: { name: string; title: string }[]
}>()
const emit = defineEmits<{
  change: [variable: string, reference: string | null, isDone: boolean]
  detail: [term: Term]
  together: [other: string]
  drop: []
  clear: []
}>()

const step = ref<'variable' | 'reference' | 'details'>('variable')
const entry = computed(() => entryOf(props.codebook, props.variable))
const chosen = computed(() => {
  const value = props.reference ?? entry.value?.variable.categories[0]?.value
  return value ? [value] : []
})

function choose(name: string) {
  if (name === props.variable) step.value = props.term ? 'details' : 'reference'
  else emit('change', name, null, true)
}

function refused(entry: Entry) {
  if (entry.variable.name === props.outcome) return 'this is the outcome'
  return props.refusal(entry)
}
</script>

<template>
  <div v-if="step === 'variable'">
    <VariablePicker
      :entries="codebook"
      :chosen="variable"
      :refusal="refused"
      label="Vary with"
      @choose="choose"
    />
    <p v-if="entry" class="foot">
      <button v-if="term" class="act" @click="step = 'details'">How it enters…</button>
      <button v-else class="act" @click="step = 'reference'">Change the reference…</button>
      <button class="act" @click="emit('clear')">Nothing: only how it is distributed</button>
    </p>
  </div>
  <TermDetails
    v-else-if="step === 'details' && entry && term"
    :entry="entry"
    :term="term"
    :others="others"
    @change="emit('detail', $event)"
    @together="emit('together', $event)"
    @drop="emit('drop')"
  />
  <ChoiceList
    v-else-if="entry"
    :heading="`Against which ${withinSentence(entry.variable)} are the others compared?`"
    hint="Every ratio and difference reads: this one against the reference."
    :entry="entry"
    :chosen="chosen"
    @change="emit('change', entry.variable.name, $event[0] ?? null, true)"
    @done="emit('change', entry.variable.name, chosen[0] ?? null, true)"
    @back="step = 'variable'"
  />
</template>

<style scoped>
.foot {
  padding: 8px 14px 12px;
  border-top: 1px solid var(--hairline);
  display: flex;
  gap: 20px;
}
</style>
