<script setup lang="ts">
/** Expected shares: equal, typed beside the categories (the rest filled in), or another variable's. */
import { computed, ref, watch } from 'vue'

import type { Distribution, Entry, Question } from '@/api/types'
import { isCategorical, titleOf } from '@/parts/kinds'
import { filledIn, parseRatios } from './shares'

const props = defineProps<{ question: Question; variable: Distribution; codebook: Entry[] }>()
const emit = defineEmits<{ change: [question: Question] }>()

type Expected =
  | { kind: 'equal' }
  | { kind: 'stated'; shares: Record<string, number> }
  | { kind: 'variable'; variable: string }

const expected = computed(() => props.question.options.expected as Expected | undefined)
const typed = ref<Record<string, string>>({})
const ratios = ref('')
watch(
  [expected, () => props.variable.variable],
  ([now]) => {
    const shares = now?.kind === 'stated' ? now.shares : {}
    typed.value = Object.fromEntries(Object.entries(shares).map(([k, v]) => [k, String(v)]))
  },
  { immediate: true },
)

const others = computed(() =>
  props.codebook
    .filter((e) => isCategorical(e.variable) && e.variable.name !== props.variable.variable)
    .map((e) => ({ value: e.variable.name, title: titleOf(e.variable) })),
)
const values = computed(() => props.variable.table.map((row) => row.value))
const filled = computed(() => filledIn(values.value, typed.value))

function set(next: Expected | undefined) {
  const options = { ...props.question.options } as Record<string, unknown>
  if (next) options.expected = next
  else delete options.expected
  emit('change', { ...props.question, options: options as Question['options'] })
}

function compare() {
  set({ kind: 'stated', shares: filled.value.shares })
}

function useRatios() {
  const found = parseRatios(ratios.value)
  typed.value = Object.fromEntries(values.value.map((value, i) => [value, found[i] ?? '']))
}
</script>

<template>
  <div class="editor">
    <div class="choices">
      <button
        class="act"
        :aria-pressed="expected?.kind === 'equal'"
        @click="set({ kind: 'equal' })"
      >
        Equal shares
      </button>
      <v-select
        :model-value="expected?.kind === 'variable' ? expected.variable : null"
        :items="others"
        label="As another variable is answered"
        class="other"
        @update:model-value="$event && set({ kind: 'variable', variable: $event })"
      />
      <v-text-field
        v-model="ratios"
        label="Ratios in order, such as 2 : 1 : 1"
        class="other"
        @change="useRatios"
      />
      <button v-if="expected" class="act" @click="set(undefined)">No comparison</button>
    </div>
    <form class="stated" @submit.prevent="compare">
      <label v-for="row in variable.table" :key="row.value">
        <span>{{ row.label }}</span>
        <input
          v-model="typed[row.value]"
          inputmode="decimal"
          :placeholder="filled.rest"
          :aria-label="`Expected share of ${row.label}`"
        />
      </label>
      <p class="quiet">{{ filled.words }}</p>
      <p><button class="act" type="submit">Compare with these shares</button></p>
    </form>
  </div>
</template>

<style scoped>
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 20px;
  align-items: center;
  margin-bottom: 10px;
}
.choices .act[aria-pressed='true'] {
  color: var(--ink);
  border-bottom: 2px solid var(--pine);
}
.other {
  flex: 0 0 270px;
}
.stated {
  display: grid;
  gap: 4px;
  max-width: 420px;
}
.stated label {
  display: grid;
  grid-template-columns: 1fr 110px;
  gap: 12px;
  align-items: center;
}
input {
  font: inherit;
  color: var(--ink);
  text-align: right;
  background: transparent;
  border: 0;
  border-bottom: 1px solid var(--hairline);
  padding: 2px 4px;
}
input:focus {
  border-bottom-color: var(--pine);
  outline: none;
}
input::placeholder {
  color: var(--quiet);
}
</style>
