<script setup lang="ts">
/** Slots that are filled but that the lens does not read, and the way to the one that does. */
import { computed } from 'vue'

import { useAsking } from '../useAsking'

const { question, lens, lenses, put, titlesOf } = useAsking()

const unread = computed(() => {
  const { allowing_for, within, matched } = question.value
  const filled = [
    ['allowing_for', 'allow for', allowing_for.map(({ variable }) => variable)],
    ['within', 'look within', [...within]],
    ['matched', 'keep to the sets of', matched ? [matched] : []],
  ] as const
  return filled.flatMap(([slot, does, names]) => {
    const is = lens.value
    if (!names.length || !is || is.uses.includes(slot)) return []
    const other = lenses.value.find(({ uses }) => uses.includes(slot))
    return [{ words: `${is.title} does not ${does} ${titlesOf(names)}.`, other }]
  })
})
</script>

<template>
  <p v-for="{ words, other } in unread" :key="words" class="quiet unread">
    {{ words }}
    <button v-if="other && !other.why_not" class="act" @click="put({ lens: other.name as never })">
      Ask it as {{ other.title }}
    </button>
    <template v-else-if="other"> {{ other.title }} does. {{ other.why_not }}</template>
  </p>
</template>

<style scoped>
.unread {
  margin-top: 4px;
}
</style>
