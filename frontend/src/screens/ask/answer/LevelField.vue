<script setup lang="ts">
/** The level of confidence of every interval of a question, in percent. */
import { inField } from '@/design/numbers'
import NumberField from '@/parts/NumberField.vue'
import { useAsking } from '../useAsking'

const { question, put } = useAsking()
</script>

<template>
  <NumberField
    :value="Number(inField(100 * question.confidence))"
    :from="50"
    :to="99.99"
    label="Level of confidence, %"
    @change="put({ confidence: $event / 100 })"
  />
</template>
