<script setup lang="ts">
/** Choose among the categories of a variable: one, or several together. */
import { onMounted, ref } from 'vue'

import type { Entry } from '@/api/types'
import { count } from '@/design/numbers'
import { enterInField } from '@/parts/enterInField'
import { focusWhenShown } from '@/parts/focus'

const props = defineProps<{
  heading: string
  hint: string
  entry: Entry
  chosen: string[]
  multiple?: boolean
}>()
const emit = defineEmits<{ change: [values: string[]]; done: []; back: [] }>()

const form = ref<HTMLElement>()
onMounted(() => {
  const inputs = [...(form.value?.querySelectorAll<HTMLInputElement>('input') ?? [])]
  focusWhenShown(inputs.find((input) => input.checked) ?? inputs[0])
})

function turn(value: string) {
  if (!props.multiple) return emit('change', [value])
  const has = props.chosen.includes(value)
  const order = props.entry.variable.categories.map((category) => category.value)
  const next = has ? props.chosen.filter((each) => each !== value) : [...props.chosen, value]
  emit(
    'change',
    order.filter((each) => next.includes(each)),
  )
}

function n(at: number): string {
  const { summary } = props.entry
  return summary.kind === 'categories' ? count(summary.counts[at] ?? 0) : ''
}
</script>

<template>
  <form
    ref="form"
    class="choices"
    @submit.prevent="emit('done')"
    @keydown.enter="enterInField($event, () => emit('done'))"
  >
    <fieldset>
      <legend class="heading">{{ heading }}</legend>
      <label
        v-for="(category, i) in entry.variable.categories"
        :key="category.value"
        class="choice"
      >
        <input
          :type="multiple ? 'checkbox' : 'radio'"
          :name="`choice-${entry.variable.name}`"
          :checked="chosen.includes(category.value)"
          @change="turn(category.value)"
        />
        <span class="text">{{ category.label }}</span><span class="quiet">{{ n(i) }}</span>
      </label>
    </fieldset>
    <p class="quiet hint">{{ hint }}</p>
    <p class="foot">
      <button type="button" class="act" @click="emit('back')">Another variable…</button>
      <button type="submit" class="act">Done</button>
    </p>
  </form>
</template>

<style scoped>
.choices {
  width: 390px;
  max-width: 92vw;
  padding: 14px 16px;
}
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  max-height: 300px;
  overflow-y: auto;
}
.heading {
  font-weight: 600;
  padding: 0;
  margin-bottom: 6px;
  overflow-wrap: anywhere;
}
.choice {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 4px 6px;
  border-radius: 5px;
  cursor: pointer;
}
.choice:hover,
.choice:focus-within {
  background: var(--pine-soft);
}
.text {
  flex: 1;
  overflow-wrap: anywhere;
}
input {
  accent-color: var(--pine);
}
.hint {
  font-size: 0.88rem;
  margin: 8px 0 10px;
}
.foot {
  display: flex;
  justify-content: space-between;
}
</style>
