<script setup lang="ts">
/** Examples to begin with, made from the variables of the data themselves. */
import { computed } from 'vue'

import { withinSentence } from '@/parts/kinds'
import { useAsking } from '../useAsking'
import { firstQuestions } from './firstQuestions'

const { codebook, lensThatGives, put } = useAsking()
const examples = computed(() =>
  firstQuestions(codebook.value.map(({ variable }) => variable)).map(({ outcome, by }) => ({
    words: by
      ? `How does ${withinSentence(outcome)} vary with ${withinSentence(by)}?`
      : `How is ${withinSentence(outcome)} distributed?`,
    slots: {
      outcome: { variable: outcome.name, event: [] },
      vary_with: by ? [{ variable: by.name }] : [],
      lens: lensThatGives(by ? 'table' : 'shares of answers') as never,
    },
  })),
)
</script>

<template>
  <section v-if="examples.length" class="first" aria-label="Questions to begin with">
    <p class="quiet">Choose the outcome in the sentence above, or begin with one of these:</p>
    <p v-for="{ words, slots } in examples" :key="words">
      <button class="act" @click="put(slots)">{{ words }}</button>
    </p>
  </section>
</template>

<style scoped>
.first {
  display: grid;
  gap: 8px;
  margin-top: 18px;
}
</style>
