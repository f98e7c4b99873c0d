<script setup lang="ts">
/** Where a new step of a model begins. */
import { computed } from 'vue'

const { terms, begun } = defineProps<{
  terms: readonly { term: string; title: string; role: 'vary_with' | 'allowing_for' }[]
  begun: readonly string[]
}>()
const emit = defineEmits<{ begin: [at: string[]] }>()
/** Terms that could begin a step of their own: all but the first of each slot. */
const splits = computed(() => terms.filter((term, i) => i && terms[i - 1]!.role === term.role))

function turn(term: string, isOn: boolean) {
  const rest = begun.filter((each) => each !== term)
  emit('begin', isOn ? [...rest, term] : rest)
}
</script>

<template>
  <p v-if="splits.length" class="choices splits">
    A new step begins at
    <label v-for="each in splits" :key="each.term">
      <input
        type="checkbox"
        :checked="begun.includes(each.term)"
        @change="turn(each.term, ($event.target as HTMLInputElement).checked)"
      />
      {{ each.title }}
    </label>
    <button
      class="act"
      @click="
        emit(
          'begin',
          splits.map(({ term }) => term),
        )
      "
    >
      One at a time
    </button>
  </p>
</template>

<style scoped>
.splits {
  margin: 8px 0;
  font-size: 0.93rem;
}
</style>
