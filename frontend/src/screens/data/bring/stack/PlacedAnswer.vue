<script setup lang="ts">
/** An answer of one data set and its rows: dragged, or moved with a number key. */
import type { Schemas } from '@/api/types'
import { count } from '@/design/numbers'

const props = defineProps<{
  answer: Schemas['AnswerThere']
  source: number
  isOpen: boolean
  mayChange: boolean
}>()
const emit = defineEmits<{ press: [key: string] }>()

function start(event: DragEvent) {
  event.dataTransfer?.setData('text/plain', `${props.source} ${props.answer.value}`)
}

function press(event: KeyboardEvent) {
  if (!props.mayChange || event.ctrlKey || event.metaKey || event.altKey) return
  if (/^[0-9]$|^Backspace$|^Delete$/.test(event.key)) {
    event.preventDefault()
    event.stopPropagation()
    emit('press', event.key)
  }
}
</script>

<template>
  <span
    class="answer"
    :class="{ open: isOpen }"
    :tabindex="mayChange ? 0 : undefined"
    :draggable="mayChange"
    role="button"
    :aria-label="`${answer.label}, ${count(answer.n)}`"
    :title="mayChange ? 'Press the number of a common answer, or 0 to set it aside' : undefined"
    @dragstart="start"
    @keydown="press"
    >{{ answer.label }} <small class="quiet">{{ count(answer.n) }}</small></span
  >
</template>

<style scoped>
.answer {
  display: inline-block;
  margin: 1px 5px 3px 0;
  padding: 0 8px 1px;
  border: 1px solid var(--hairline);
  border-radius: 5px;
  background: var(--sheet);
  cursor: grab;
  overflow-wrap: anywhere;
}
.answer.open {
  border-style: dashed;
  border-color: var(--care);
  color: var(--care);
}
</style>
