<script setup lang="ts">
/** Choose the explanatory variable, then the category the others are compared against. */
import { computed, ref } from 'vue'

import type { Entry } from '@/api/types'
import { titleOf } from '@/parts/kinds'
import VariablePicker from '@/parts/VariablePicker.vue'
import ChoiceList from './ChoiceList.vue'
import { entryOf } from './words'

const props = defineProps<{
  codebook: Entry[]
  variable?: string
  reference: string | null
  outcome?: string
  refusal: (entry: Entry) => string | undefined
}>()
const emit = defineEmits<{
  change: [variable: string, reference: string | null, isDone: boolean]
  clear: []
}>()

const step = ref<'variable' | 'reference'>('variable')
const entry = computed(() => entryOf(props.codebook, props.variable))
const chosen = computed(() => {
  const value = props.reference ?? entry.value?.variable.categories[0]?.value
  return value ? [value] : []
})

function choose(name: string) {
  if (name === props.variable) step.value = 'reference'
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
      <button class="act" @click="step = 'reference'">Change the reference…</button>
      <button class="act" @click="emit('clear')">Nothing: only how it is distributed</button>
    </p>
  </div>
  <ChoiceList
    v-else-if="entry"
    :heading="`Against which ${titleOf(entry.variable)} are the others compared?`"
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
