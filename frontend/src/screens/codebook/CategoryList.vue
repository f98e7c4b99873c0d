<script setup lang="ts">
/** The categories of a variable in order: labels, event, reference; moved by drag or Alt+arrows. */
import DraftInput from '@/parts/DraftInput.vue'
import { mdiDragVertical } from '@mdi/js'
import { computed, nextTick, ref } from 'vue'

import type { Category, Entry, Step } from '@/api/types'
import { count, percent } from '@/design/numbers'
import { describe } from './steps'

const props = defineProps<{ entry: Entry; mayChange: boolean }>()
const emit = defineEmits<{ step: [step: Step]; combine: [first: string, second: string] }>()

const list = ref<HTMLElement>()
const dragged = ref<number>()
const over = ref<number>()
const willCombine = ref(false)
const variable = computed(() => props.entry.variable)
const counts = computed(() =>
  props.entry.summary.kind === 'categories' ? props.entry.summary.counts : [],
)
const largest = computed(() => Math.max(1, ...counts.value))
const answered = computed(() => counts.value.reduce((sum, n) => sum + n, 0))

function change(changes: Parameters<typeof describe>[1]) {
  emit('step', describe(variable.value.name, changes))
}

function rename(at: number, label: string, putBack: () => void) {
  const category = variable.value.categories[at]!
  if (!label.trim()) putBack()
  if (!label.trim() || label === category.label) return
  const categories = variable.value.categories.map((each, i) =>
    i === at ? { ...each, label: label.trim() } : each,
  )
  change({ categories })
}

async function move(from: number, to: number) {
  if (to < 0 || to >= variable.value.categories.length || from === to) return
  const categories: Category[] = [...variable.value.categories]
  categories.splice(to, 0, ...categories.splice(from, 1))
  change({ categories })
  await nextTick()
  list.value?.querySelectorAll<HTMLElement>('.handle')[to]?.focus()
}

function reverse() {
  change({ categories: [...variable.value.categories].reverse() })
}

function turnEvent({ value }: Category) {
  const { event } = variable.value
  change({
    event: event.includes(value) ? event.filter((each) => each !== value) : [...event, value],
  })
}

function setReference({ value }: Category) {
  if (variable.value.reference === value) change({ clear_reference: true })
  else change({ reference: value })
}

/** The middle of a category combines, its edges put the dragged one before or after. */
function hover(event: DragEvent, at: number) {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
  const share = (event.clientY - box.top) / box.height
  over.value = at
  willCombine.value = dragged.value !== at && share > 0.3 && share < 0.7
}

function drop(to: number) {
  const from = dragged.value
  if (from !== undefined && willCombine.value) {
    const [first, second] = [variable.value.categories[from]!, variable.value.categories[to]!]
    emit('combine', first.value, second.value)
  } else if (from !== undefined) move(from, to)
  dragged.value = over.value = undefined
}
</script>

<template>
  <div>
    <ol ref="list" class="categories" aria-label="Categories in order">
      <li
        v-for="(category, i) in variable.categories"
        :key="category.value"
        class="category"
        :class="{
          target: over === i && dragged !== i && !willCombine,
          combine: over === i && willCombine,
        }"
        @dragover.prevent="hover($event, i)"
        @drop.prevent="drop(i)"
      >
        <button
          class="handle"
          :draggable="mayChange"
          :disabled="!mayChange"
          :aria-label="`Move ${category.label}: Alt and arrow up or down, or drag`"
          title="Drag, or Alt + ↑ ↓"
          @dragstart="dragged = i"
          @dragend="dragged = over = undefined"
          @keydown.alt.up.prevent="move(i, i - 1)"
          @keydown.alt.down.prevent="move(i, i + 1)"
        >
          <v-icon :icon="mdiDragVertical" size="16" />
        </button>
        <DraftInput
          class="name"
          :value="category.label"
          :disabled="!mayChange"
          :aria-label="`Label of ${category.value}`"
          :title="category.label"
          maxlength="300"
          @take="(text, putBack) => rename(i, text, putBack)"
          @keydown.enter="($event.target as HTMLElement).blur()"
        />
        <small v-if="category.value !== category.label" class="quiet value">{{
          category.value
        }}</small>
        <span class="n" :title="answered ? percent((counts[i] ?? 0) / answered) : ''">{{
          count(counts[i] ?? 0)
        }}</span>
        <span class="bar"
          ><span class="fill" :style="{ width: `${(100 * (counts[i] ?? 0)) / largest}%` }"
        /></span>
        <button
          class="chip"
          :aria-pressed="variable.event.includes(category.value)"
          :disabled="!mayChange"
          @click="turnEvent(category)"
        >
          event
        </button>
        <button
          class="chip"
          :aria-pressed="variable.reference === category.value"
          :disabled="!mayChange"
          @click="setReference(category)"
        >
          reference
        </button>
      </li>
    </ol>
    <p class="quiet foot">
      <template v-if="!variable.categories.length">No row has an answer. </template>
      <template v-else-if="mayChange"
        >Drag between others to reorder (or Alt + ↑ ↓), onto another to combine.
        <button class="act" @click="reverse">Reverse order</button></template
      >
    </p>
  </div>
</template>

<style scoped>
.categories {
  list-style: none;
  margin: 4px 0 6px;
  padding: 0;
}
.category {
  display: grid;
  grid-template-columns: 20px minmax(60px, 1fr) auto 46px 44px auto auto;
  gap: 6px;
  align-items: center;
  border-bottom: 1px solid var(--hairline);
  min-height: 34px;
}
.category.target {
  box-shadow: 0 2px 0 var(--pine);
}
.category.combine {
  background: var(--pine-soft);
  outline: 1px solid var(--pine);
  border-radius: 4px;
}
.handle {
  cursor: grab;
  color: var(--quiet);
  display: flex;
}
.name {
  border: 0;
  background: none;
  font: inherit;
  color: inherit;
  padding: 4px 2px;
  min-width: 0;
  text-overflow: ellipsis;
  border-bottom: 1px solid transparent;
}
.name:focus {
  outline: none;
  border-color: var(--pine);
}
.value {
  max-width: 60px;
  overflow: hidden;
  text-overflow: ellipsis;
}
.n {
  text-align: right;
}
.bar {
  height: 10px;
}
.fill {
  display: block;
  height: 100%;
  border-radius: 2px;
  background: color-mix(in srgb, var(--pine) 25%, var(--sheet));
}
.chip {
  font-size: 0.8rem;
  border: 1px solid transparent;
  border-radius: 10px;
  padding: 0 7px;
  color: var(--quiet);
}
.chip:hover:not(:disabled) {
  border-color: var(--hairline);
}
.chip[aria-pressed='true'] {
  border-color: var(--pine);
  color: var(--pine);
  font-weight: 600;
}
.chip:disabled[aria-pressed='false'] {
  visibility: hidden;
}
.foot {
  font-size: 0.9rem;
}
</style>
