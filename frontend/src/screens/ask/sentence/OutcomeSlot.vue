<script setup lang="ts">
/** The outcome, and which of its answers count as the event; turned round with one click. */
import { computed, toRef } from 'vue'

import type { Problem } from '@/api/client'
import { labelOf, titleOf } from '@/parts/kinds'
import { useAsking } from '../useAsking'
import { eventOf, turned } from '../words'
import OutcomePicker from './OutcomePicker.vue'
import SlotChip from './SlotChip.vue'
import { useSlot } from './useSlots'

const props = defineProps<{ problem?: Problem }>()
const { question, codebook, entryOf, lens, lensThatGives, put, shown } = useAsking()
const { chip, close } = useSlot('outcome', toRef(props, 'problem'))
const outcome = computed(() => entryOf(question.value.outcome?.variable)?.variable)
const event = computed(() => eventOf(question.value, outcome.value))
const label = computed(() =>
  outcome.value ? event.value.map((value) => labelOf(outcome.value!, value)).join(' or ') : '',
)

/** A model of an outcome that is not cut in two. */
const hasEveryAnswer = computed(
  () =>
    lens.value?.gives === 'model' &&
    lens.value.forms.some((name) => name === shown.value?.answer.lens),
)

function set(variable: string, chosen: string[], isDone: boolean) {
  // Alone it can only be looked at as it is distributed.
  const through = question.value.vary_with.length ? undefined : lensThatGives('shares of answers')
  const lens = through ? { lens: through as never } : {}
  put({ outcome: { variable, event: chosen }, ...lens })
  if (isDone) close()
}

function turn() {
  const next = turned(question.value, outcome.value)
  if (next) put(next)
}
</script>

<template>
  <SlotChip v-bind="chip" label="Outcome and event" :is-empty="!outcome">
    <template v-if="outcome"
      >{{ titleOf(outcome)
      }}<template v-if="label"
        >: <span class="way">{{ label }}</span></template
      ><template v-else-if="hasEveryAnswer"
        >: <span class="way">every answer</span></template
      ></template
    >
    <template v-else>an outcome</template>
    <template #picker>
      <OutcomePicker
        :codebook="codebook"
        :variable="question.outcome?.variable"
        :event="event"
        @change="set"
      />
    </template>
  </SlotChip>
  <button
    v-if="label"
    class="turn"
    :aria-label="`Turn round: make the other answers to ${titleOf(outcome!)} the event`"
    title="Turn the event round (t)"
    @click="turn"
  >
    ⇄
  </button>
</template>

<style scoped>
.way {
  color: var(--pine);
}
.turn {
  color: var(--pine);
  font-size: 1.1rem;
  padding: 0 4px;
  border-radius: 4px;
}
.turn:hover {
  background: var(--pine-soft);
}
</style>
