<script setup lang="ts">
/** Finds a number of an answer, or a table or figure to refer to, by typing part of its name. */
import { computed, nextTick, onMounted, ref, watch } from 'vue'

import type { Schemas } from '@/api/types'
import { useAnswerParts } from './answerParts'
import { lastAsked } from './lastAsked'
import { numbersOf } from './numbers'
import { usePageNow } from './page'

const MOST = 60
const props = defineProps<{ questions: Schemas['QuestionOut'][] }>()
const emit = defineEmits<{
  take: [question: string, key: string]
  refer: [block: string]
  /** Whether the caret is to come back to the page. */
  leave: [comesBack: boolean]
}>()
const page = usePageNow()

const question = ref(
  props.questions.some(({ id }) => id === lastAsked.value)
    ? lastAsked.value!
    : (props.questions[0]?.id ?? ''),
)
watch(question, (id) => (lastAsked.value = id))
const parts = useAnswerParts(question)
const typed = ref('')
const active = ref(0)
const place = ref<HTMLElement>()
onMounted(() => nextTick(() => place.value?.querySelector('input')?.focus()))

interface Found {
  label: string
  text: string
  run: () => void
}
const all = computed<Found[]>(() => [
  ...[...page.labels.value].map(([block, label]) => ({
    label: page.parts.value.get(block)?.[0]?.caption ?? '',
    text: label,
    run: () => emit('refer', block),
  })),
  ...numbersOf(parts.data.value).map(({ key, label, text }) => ({
    label,
    text,
    run: () => emit('take', question.value, key),
  })),
])
const found = computed(() => {
  const words = typed.value.toLowerCase().split(/\s+/).filter(Boolean)
  return all.value
    .filter(({ label, text }) =>
      words.every((word) => `${label} ${text}`.toLowerCase().includes(word)),
    )
    .slice(0, MOST)
})
watch(typed, () => (active.value = 0))

function walk(event: KeyboardEvent) {
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key]
  if (step && found.value.length) {
    active.value = (active.value + step + found.value.length) % found.value.length
    void nextTick(() =>
      place.value?.querySelector('[aria-selected="true"]')?.scrollIntoView({ block: 'nearest' }),
    )
  } else if (event.key === 'Enter') found.value[active.value]?.run()
  else if (event.key === 'Escape') emit('leave', true)
  else return
  event.preventDefault()
}
function left(event: FocusEvent) {
  if (!place.value?.contains(event.relatedTarget as Node | null)) emit('leave', false)
}
const titleOf = (each: Schemas['QuestionOut']) => page.titleOf(each.id)
</script>

<template>
  <section
    ref="place"
    class="popover picker"
    role="dialog"
    aria-label="Put in a number"
    @keydown="walk"
    @focusout="left"
  >
    <select v-model="question" class="line" aria-label="Of the answer to">
      <option v-for="each in questions" :key="each.id" :value="each.id">
        {{ titleOf(each) }}
      </option>
    </select>
    <input
      v-model="typed"
      class="line"
      role="combobox"
      aria-expanded="true"
      aria-controls="number-list"
      :aria-activedescendant="found.length ? `number-${active}` : undefined"
      aria-label="Find a number"
      placeholder="Which number? Type part of its name"
      autocomplete="off"
    />
    <p v-if="parts.error.value" class="trouble">{{ (parts.error.value as Error).message }}</p>
    <p v-else-if="parts.isPending.value" class="quiet" role="status">Asking the question</p>
    <p v-else-if="!found.length" class="quiet">No number is called that.</p>
    <ul id="number-list" role="listbox" aria-label="Numbers">
      <li
        v-for="(each, i) in found"
        :id="`number-${i}`"
        :key="i"
        role="option"
        :aria-selected="i === active"
        @mousedown.prevent
        @click="each.run()"
        @mousemove="active = i"
      >
        <span>{{ each.label }}</span><b>{{ each.text }}</b>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.picker {
  position: fixed;
  z-index: 20;
  width: 380px;
  display: grid;
  gap: 6px;
  padding: 10px 12px;
}
.picker .line {
  text-align: left;
  width: 100%;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 220px;
  overflow-y: auto;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 3px 6px;
  border-radius: 4px;
  cursor: pointer;
  overflow-wrap: anywhere;
}
li b {
  font-weight: 600;
  text-align: right;
}
li[aria-selected='true'] {
  background: var(--pine-soft);
}
.trouble {
  color: var(--fail);
}
</style>
