<script setup lang="ts">
/** The level of confidence of every interval of a question, in percent. */
import type { Question } from '@/api/types'
import NumberField from '@/parts/NumberField.vue'

defineProps<{ question: Question }>()
const emit = defineEmits<{ change: [question: Question] }>()
</script>

<template>
  <NumberField
    :value="+(100 * question.confidence).toFixed(4)"
    :from="50"
    :to="99.99"
    label="Level of confidence, %"
    @change="emit('change', { ...question, confidence: $event / 100 })"
  />
</template>
