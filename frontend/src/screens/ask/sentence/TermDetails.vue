<script setup lang="ts">
/** How one variable enters the model: its reference, its units and bending, and with whom it acts
 * together. */
import { computed } from 'vue'

import type { Entry, Question } from '@/api/types'
import { titleOf } from '@/parts/kinds'
import NumberField from '@/parts/NumberField.vue'

type Term = Question['vary_with'][number]

const props = defineProps<{
  entry: Entry
  term: Term
  /** The other variables of the sentence, by name and title. */
  others: { name: string; title: string }[]
}>()
const emit = defineEmits<{ change: [term: Term]; together: [other: string]; drop: [] }>()

const variable = computed(() => props.entry.variable)
const reference = computed(
  () => props.term.reference ?? variable.value.reference ?? variable.value.categories[0]?.value,
)
const categories = computed(() =>
  variable.value.categories.map(({ value, label }) => ({ value, title: label })),
)
const bends = [
  { value: null, title: 'straight: each unit multiplies alike' },
  { value: 'quadratic', title: 'bent once (squared)' },
  { value: 'spline', title: 'bending freely (cubic spline)' },
]
</script>

<template>
  <div class="details">
    <p class="overline">{{ titleOf(variable) }}</p>
    <v-select
      v-if="categories.length"
      :model-value="reference"
      :items="categories"
      label="Compared against"
      @update:model-value="emit('change', { ...term, reference: $event })"
    />
    <template v-else>
      <NumberField
        :value="term.per ?? 1"
        :from="1e-12"
        :to="1e15"
        :label="`Odds ratio per so many ${variable.unit || 'units'}`"
        @change="emit('change', { ...term, per: $event })"
      />
      <v-select
        :model-value="term.bend ?? null"
        :items="bends"
        label="Log odds along it"
        @update:model-value="emit('change', { ...term, bend: $event })"
      />
    </template>
    <v-select
      v-if="others.length"
      :model-value="null"
      :items="others.map(({ name, title }) => ({ value: name, title }))"
      label="Let it act together with"
      @update:model-value="$event && emit('together', $event)"
    />
    <p><button class="act" @click="emit('drop')">Leave it out</button></p>
  </div>
</template>

<style scoped>
.details {
  display: grid;
  gap: 12px;
  padding: 14px;
  width: 330px;
}
</style>
