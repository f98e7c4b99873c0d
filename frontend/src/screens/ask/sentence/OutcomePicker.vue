<script setup lang="ts">
/** Choose the outcome, then which of its answers count as the event. */
import { computed, ref } from 'vue'

import type { Entry } from '@/api/types'
import { isCategorical, notAsked, withinSentence } from '@/parts/kinds'
import VariablePicker from '@/parts/VariablePicker.vue'
import ChoiceList from './ChoiceList.vue'
import { entryOf } from '@/parts/subset/words'

const props = defineProps<{
  codebook: Entry[]
  variable?: string
  event: readonly string[]
}>()
const emit = defineEmits<{ change: [variable: string, event: string[], isDone: boolean] }>()

const step = ref<'variable' | 'event'>(props.variable && !props.event.length ? 'event' : 'variable')
const entry = computed(() => entryOf(props.codebook, props.variable))

function choose(name: string) {
  const chosen = entryOf(props.codebook, name)!.variable
  const event = name === props.variable ? props.event : chosen.event
  const canHaveEvent = isCategorical(chosen)
  const isDone = !canHaveEvent || (event.length > 0 && name !== props.variable)
  emit('change', name, [...event], isDone)
  if (!isDone) step.value = 'event'
}
</script>

<template>
  <VariablePicker
    v-if="step === 'variable'"
    :entries="codebook"
    :chosen="variable"
    :refusal="({ variable: each }) => (each.kind === 'date' ? notAsked(each) : undefined)"
    label="Outcome"
    @choose="choose"
  />
  <ChoiceList
    v-else-if="entry"
    :heading="`Which answer to ${withinSentence(entry.variable)} is the event?`"
    hint="Odds and shares are those of the event. Choose several to count them together; none to compare all answers."
    :entry="entry"
    :chosen="[...event]"
    multiple
    @change="emit('change', entry.variable.name, $event, false)"
    @done="emit('change', entry.variable.name, [...event], true)"
    @back="step = 'variable'"
  />
</template>
