<script setup lang="ts">
/** What a person should look at in a variable; what is to be decided is a click. */
import { computed } from 'vue'

import type { Entry, Look, Step } from '@/api/types'
import { oneSpelling } from './steps'

const props = defineProps<{ entry: Entry; looks: Look[]; mayChange: boolean }>()
const emit = defineEmits<{ step: [step: Step] }>()

const variables = computed(() => [props.entry.variable.name])

function noAnswers(values: string[]) {
  const codes = values.map((value) => ({ value, label: '' }))
  emit('step', { step: 'declare_missing', variables: variables.value, codes })
}

function answers(values: string[]) {
  emit('step', { step: 'count_as_answer', variables: variables.value, values })
}
</script>

<template>
  <div v-if="looks.length" class="looks">
    <div v-for="look in looks" :key="look.text" class="look">
      <span class="text">{{ look.text }}</span>
      <span v-if="mayChange && look.asks === 'is_answer'" class="choices">
        <button
          class="act"
          :aria-label="`${look.values.join(', ')}: not an answer`"
          @click="noAnswers(look.values)"
        >
          Not an answer
        </button>
        <button
          class="act"
          :aria-label="`${look.values.join(', ')}: an answer`"
          @click="answers(look.values)"
        >
          An answer
        </button>
      </span>
      <span v-else-if="mayChange && look.asks === 'is_same'" class="choices">
        <button
          class="act"
          :aria-label="`${look.values.join(', ')}: another answer`"
          @click="answers(look.values)"
        >
          They differ
        </button>
        <button
          v-if="entry.spelled_twice.length"
          class="act"
          :aria-label="`${look.values.join(', ')}: the same answer`"
          @click="emit('step', oneSpelling(entry.variable.name, look.values))"
        >
          Make them one
        </button>
      </span>
    </div>
  </div>
</template>

<style scoped>
.look {
  color: var(--care);
}
/* Blanks are what some answers differ in. */
.text {
  margin-right: 0.4em;
  white-space: pre-wrap;
}
.choices {
  display: inline-flex;
  gap: 14px;
}
</style>
