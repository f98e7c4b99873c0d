<script setup lang="ts">
/** What a person should look at in a variable; what is to be decided is a click. */
import { computed } from 'vue'

import type { Entry, Look, Step } from '@/api/types'
import { oneSpelling } from './steps'

const props = defineProps<{ entry: Entry; looks: Look[]; mayChange: boolean }>()
const emit = defineEmits<{ step: [step: Step] }>()

const variables = computed(() => [props.entry.variable.name])
/** One click makes all of them one, so it stands behind the last. */
const lastTwins = computed(() => props.looks.filter(({ asks }) => asks === 'is_same').at(-1))

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
      {{ look.text }}
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
          v-if="look === lastTwins && entry.spelled_twice.length"
          class="act"
          @click="emit('step', oneSpelling(entry.variable.name))"
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
.choices {
  display: inline-flex;
  gap: 14px;
}
</style>
