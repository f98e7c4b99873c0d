<script setup lang="ts">
/** Yes or no from any categories: these answers are the event. */
import { computed, ref } from 'vue'

import type { Entry, Step } from '@/api/types'
import { count } from '@/design/numbers'
import { titleOf } from '@/parts/kinds'
import MakeForm from './MakeForm.vue'
import { freeName } from './steps'

const props = defineProps<{ entry: Entry; codebook: Entry[] }>()
const emit = defineEmits<{ step: [step: Step]; close: [] }>()

const variable = computed(() => props.entry.variable)
const event = ref<string[]>([...variable.value.event])
const name = ref(freeName(`${variable.value.name}_yes`, props.codebook))
const label = ref(titleOf(variable.value))
const counts = computed(() =>
  props.entry.summary.kind === 'categories' ? props.entry.summary.counts : [],
)
const problem = computed(() => {
  if (!event.value.length) return 'Choose the answers that count as yes.'
  return event.value.length === variable.value.categories.length
    ? 'Leave at least one answer for no.'
    : undefined
})

function make() {
  emit('step', {
    step: 'yes_no',
    variable: variable.value.name,
    name: name.value.trim(),
    label: label.value.trim(),
    event: event.value,
  })
}
</script>

<template>
  <MakeForm
    v-model:name="name"
    v-model:label="label"
    action="Make the yes/no variable"
    :problem="problem"
    @make="make"
    @close="emit('close')"
  >
    <fieldset>
      <legend class="quiet">These answers are the event</legend>
      <label v-for="(category, i) in variable.categories" :key="category.value" class="answer">
        <input v-model="event" type="checkbox" :value="category.value" />
        <span>{{ category.label }}</span><span class="quiet">{{ count(counts[i] ?? 0) }}</span>
      </label>
    </fieldset>
  </MakeForm>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}
.answer {
  display: grid;
  grid-template-columns: 20px 1fr auto;
  gap: 8px;
  padding: 2px 0;
  overflow-wrap: anywhere;
}
input {
  accent-color: var(--pine);
}
</style>
