<script setup lang="ts">
/** One condition: answers of a categorical variable, a range of numbers or dates, or missing. */
import { computed, onMounted, ref } from 'vue'

import type { Condition, Entry } from '@/api/types'
import { count, short } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'
import { enterInField } from '@/parts/enterInField'
import { focusWhenShown } from '@/parts/focus'
import { isCategorical, titleOf } from '@/parts/kinds'

const props = defineProps<{ entry: Entry; condition?: Condition }>()
const emit = defineEmits<{ keep: [condition: Condition]; back: [] }>()

const variable = computed(() => props.entry.variable)
const summary = computed(() => props.entry.summary)
const isDate = computed(() => variable.value.kind === 'date')
const values = ref<string[]>([])
const from = ref('')
const to = ref('')
const answered = ref<'any' | 'missing' | 'answered'>('any')
const error = ref('')
const form = ref<HTMLFormElement>()

const given = props.condition
if (given && 'is' in given) values.value = [...given.is]
else if (given && 'missing' in given) answered.value = given.missing ? 'missing' : 'answered'
else if (given && ('since' in given || 'until' in given)) {
  from.value = given.since ?? ''
  to.value = given.until ?? ''
} else if (given && ('from' in given || 'to' in given)) {
  from.value = given.from == null ? '' : String(given.from)
  to.value = given.to == null ? '' : String(given.to)
}
onMounted(() => focusWhenShown(form.value?.querySelector('input')))

function number(text: string): number | null {
  return text.trim() === '' ? null : Number(text.replace(',', '.'))
}

function keep() {
  const name = variable.value.name
  if (answered.value !== 'any')
    return emit('keep', { variable: name, missing: answered.value === 'missing' })
  if (isCategorical(variable.value)) {
    if (!values.value.length) error.value = 'Choose at least one answer.'
    else emit('keep', { variable: name, is: values.value })
    return
  }
  if (isDate.value) {
    const [since, until] = [from.value || null, to.value || null]
    if (!since && !until) error.value = 'Give a first or a last day.'
    else if (since && until && since > until) error.value = 'The first day is after the last.'
    else emit('keep', { variable: name, since, until })
    return
  }
  const [low, high] = [number(from.value), number(to.value)]
  if (low == null && high == null) error.value = 'Give a lower or an upper end.'
  else if (Number.isNaN(low) || Number.isNaN(high)) error.value = 'Both ends are numbers.'
  else if (low != null && high != null && low > high) error.value = 'From is above to.'
  else emit('keep', { variable: name, from: low, to: high })
}
</script>

<template>
  <form
    ref="form"
    class="editor"
    @submit.prevent="keep"
    @keydown.enter="enterInField($event, keep)"
  >
    <p class="heading">{{ titleOf(variable) }}</p>
    <div v-if="isCategorical(variable)" class="answers">
      <label v-for="(category, i) in variable.categories" :key="category.value" class="answer">
        <input
          v-model="values"
          type="checkbox"
          :value="category.value"
          @change="answered = 'any'"
        />
        <span class="text">{{ category.label }}</span>
        <span v-if="summary.kind === 'categories'" class="quiet">{{
          count(summary.counts[i] ?? 0)
        }}</span>
      </label>
    </div>
    <p v-else-if="isDate" class="range">
      <label>from <input v-model="from" type="date" @input="answered = 'any'" /></label>
      <label>to <input v-model="to" type="date" @input="answered = 'any'" /></label>
      <span v-if="summary.kind === 'dates' && summary.first" class="quiet"
        >{{ summary.first }} to {{ summary.last }}; both days included</span
      >
    </p>
    <p v-else class="range">
      <label>from <input v-model="from" inputmode="decimal" @input="answered = 'any'" /></label>
      <label>to <input v-model="to" inputmode="decimal" @input="answered = 'any'" /></label>
      <span v-if="summary.kind === 'numbers' && summary.low != null" class="quiet"
        >{{ short(summary.low) }} to {{ short(summary.high!) }} {{ variable.unit }}; ends
        included</span
      >
    </p>
    <label class="answer quiet">
      <input
        type="checkbox"
        :checked="answered === 'missing'"
        @change="answered = answered === 'missing' ? 'any' : 'missing'"
      />
      <span class="text">not answered</span><span>{{ count(summary.n_missing) }}</span>
    </label>
    <label class="answer quiet">
      <input
        type="checkbox"
        :checked="answered === 'answered'"
        @change="answered = answered === 'answered' ? 'any' : 'answered'"
      />
      <span class="text">answered, whatever it is</span>
    </label>
    <ErrorNote :error="error" />
    <p class="foot">
      <button type="button" class="act" @click="emit('back')">Back</button>
      <button type="submit" class="act">Among these</button>
    </p>
  </form>
</template>

<style scoped>
.editor {
  width: 390px;
  max-width: 92vw;
  padding: 14px 16px;
  display: grid;
  gap: 6px;
}
.heading {
  font-weight: 600;
}
.answers {
  max-height: 280px;
  overflow-y: auto;
}
.answer {
  display: flex;
  gap: 10px;
  padding: 3px 6px;
  cursor: pointer;
}
.text {
  flex: 1;
  overflow-wrap: anywhere;
}
.range {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: baseline;
}
.range input {
  width: 84px;
  font: inherit;
  color: inherit;
  background: var(--paper);
  border: 1px solid var(--hairline);
  border-radius: 5px;
  padding: 3px 8px;
  text-align: right;
}
.range input[type='date'] {
  width: 150px;
}
input {
  accent-color: var(--pine);
}
.foot {
  display: flex;
  justify-content: space-between;
  margin-top: 4px;
}
</style>
