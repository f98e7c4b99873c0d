<script setup lang="ts">
/** The first variable of interest, and what the others are compared against. */
import { computed, toRef } from 'vue'

import type { Problem } from '@/api/client'
import type { Entry } from '@/api/types'
import { isCategorical, titleOf } from '@/parts/kinds'
import { useAsking } from '../useAsking'
import SlotChip from './SlotChip.vue'
import TermPicker from './TermPicker.vue'
import { changedTerm, namesIn, together, wayOf, withoutTerm } from './terms'
import { useSlot } from './useSlots'

const props = defineProps<{ problem?: Problem; refusal: (entry: Entry) => string | undefined }>()
const { question, codebook, entryOf, titled, lens, lensThatGives, change, put } = useAsking()
const { chip, close } = useSlot('vary_with', toRef(props, 'problem'))
const term = computed(() => question.value.vary_with[0])
const variable = computed(() => entryOf(term.value?.variable)?.variable)
const way = computed(() => wayOf(term.value, entryOf(term.value?.variable)))
const isModel = computed(() => lens.value?.gives === 'model')
const others = computed(() =>
  namesIn(question.value)
    .filter((name) => name !== term.value?.variable)
    .map((name) => ({ name, title: titled(name) })),
)

function set(name: string, reference: string | null, isDone: boolean) {
  const outcome = entryOf(question.value.outcome?.variable)?.variable
  const isFirst = !question.value.vary_with.length
  // The question is asked through the lens that answers it, unless another was chosen since.
  const through =
    entryOf(name)?.variable.kind === 'numeric'
      ? lensThatGives('model')
      : isFirst && outcome && isCategorical(outcome)
        ? lensThatGives('table')
        : undefined
  const others = question.value.vary_with.filter((each) => each.variable !== term.value?.variable)
  put({
    vary_with: [{ variable: name, reference }, ...others],
    ...(through ? { lens: through as never } : {}),
  })
  if (isDone) close()
}

function clear() {
  const through = lensThatGives('shares of answers') ?? question.value.lens
  put({ vary_with: [], lens: through as never })
  close()
}

function actTogether(other: string) {
  change(together(question.value, 'vary_with', term.value!.variable, other))
  close()
}

function drop() {
  change(withoutTerm(question.value, term.value!))
  close()
}
</script>

<template>
  <SlotChip
    v-bind="chip"
    label="Vary with, and its reference"
    :is-empty="!variable"
    :is-add="!variable"
  >
    <template v-if="variable"
      >{{ titleOf(variable)
      }}<template v-if="way"
        >{{ ' ' }}<span class="way">{{ way }}</span></template
      ></template
    >
    <template v-else>+ vary with</template>
    <template #picker>
      <TermPicker
        :codebook="codebook"
        :variable="term?.variable"
        :reference="term?.reference ?? variable?.reference ?? null"
        :outcome="question.outcome?.variable"
        :refusal="refusal"
        :term="isModel ? term : undefined"
        :others="others"
        @change="set"
        @detail="change(changedTerm(question, 'vary_with', 0, $event))"
        @together="actTogether"
        @drop="drop"
        @clear="clear"
      />
    </template>
  </SlotChip>
</template>

<style scoped>
.way {
  color: var(--pine);
}
</style>
