<script setup lang="ts">
/** Which answers are compared, and one of them asked in every group of a variable. */
import { computed, ref } from 'vue'

import type { Entry, SavedQuestion } from '@/api/types'
import { isCategorical, titleOf } from '@/parts/kinds'
import { questionInWords } from '@/screens/ask/words'

const props = defineProps<{
  questions: SavedQuestion[]
  chosen: readonly string[]
  codebookOf: (dataset: string) => Entry[] | undefined
}>()
const emit = defineEmits<{ turn: [id: string]; spread: [id: string, by: string] }>()

const typed = ref('')
const words = (saved: SavedQuestion) => questionInWords(saved, props.codebookOf(saved.dataset))
const shown = computed(() =>
  props.questions.filter(
    (saved) =>
      saved.standing !== 'dropped' &&
      (props.chosen.includes(saved.id) ||
        words(saved).toLowerCase().includes(typed.value.trim().toLowerCase())),
  ),
)
/** The first chosen question is the one that is asked in every group. */
const first = computed(() => props.questions.find(({ id }) => id === props.chosen[0]))
const groups = computed(() =>
  (first.value ? (props.codebookOf(first.value.dataset) ?? []) : []).filter(
    ({ variable }) =>
      isCategorical(variable) &&
      variable.categories.length > 1 &&
      variable.categories.length <= 8 &&
      variable.name !== first.value!.question.outcome!.variable,
  ),
)
</script>

<template>
  <nav class="choice" aria-label="Which answers">
    <h2 class="overline">Which answers</h2>
    <input
      v-if="questions.length > 7"
      v-model="typed"
      class="line"
      placeholder="Find a question"
      aria-label="Find a question"
    />
    <ul>
      <li v-for="saved in shown" :key="saved.id" :class="{ sub: saved.parent }">
        <label>
          <input
            type="checkbox"
            :checked="chosen.includes(saved.id)"
            @change="emit('turn', saved.id)"
          />
          <span
            >{{ words(saved)
            }}<small class="quiet">{{ saved.headline ?? 'no answer yet' }}</small></span
          >
        </label>
      </li>
    </ul>
    <label v-if="first && groups.length" class="every">
      <span class="quiet">Ask “{{ words(first) }}” in every</span>
      <select
        class="line"
        aria-label="In every group of"
        :value="''"
        @change="emit('spread', first!.id, ($event.target as HTMLSelectElement).value)"
      >
        <option value="" disabled>group of …</option>
        <option v-for="{ variable } in groups" :key="variable.name" :value="variable.name">
          {{ titleOf(variable) }}
        </option>
      </select>
    </label>
  </nav>
</template>

<style scoped>
.choice {
  display: grid;
  gap: 10px;
  align-content: start;
}
.choice > .line {
  text-align: left;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 60vh;
  overflow-y: auto;
}
li {
  border-left: 2px solid var(--hairline);
  font-size: 0.93rem;
  line-height: 1.3;
}
li.sub {
  margin-left: 12px;
}
li label {
  display: flex;
  gap: 8px;
  padding: 5px 8px 5px 10px;
  cursor: pointer;
  overflow-wrap: anywhere;
}
small {
  display: block;
}
input[type='checkbox'] {
  accent-color: var(--pine);
}
.every {
  display: grid;
  gap: 3px;
}
</style>
