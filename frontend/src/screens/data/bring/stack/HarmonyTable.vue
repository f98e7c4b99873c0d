<script setup lang="ts">
/** Common answers down, data sets across: each answer is moved beside the common one it belongs to,
 *  by dragging, or with its number key. */
import { computed, ref } from 'vue'

import type { CommonLook, CommonVariable, DataSet, Entry } from '@/api/types'
import { short } from '@/design/numbers'
import DraftInput from '@/parts/DraftInput.vue'
import VariableField from '../VariableField.vue'
import CommonAnswer from './CommonAnswer.vue'
import PlacedAnswer from './PlacedAnswer.vue'
import { placed, withAnswer, withoutAnswer, withTaken } from './useHarmony'

const props = defineProps<{
  common: CommonVariable
  look: CommonLook | undefined
  sources: DataSet[]
  codebooks: Entry[][]
  mayChange: boolean
}>()
const emit = defineEmits<{
  change: [common: CommonVariable]
  take: [source: number, variable: string | null]
}>()

/** A row: a common answer, set aside (null), or not placed yet (undefined). */
type Place = string | null | undefined

const rows = computed<{ to: Place; label: string; value?: string }[]>(() => [
  ...props.common.categories.map(({ value, label }) => ({ to: value, label, value })),
  ...(isPlaced.value
    ? [
        { to: null, label: 'set aside' },
        { to: undefined, label: 'not placed yet' },
      ]
    : []),
])
const isNumeric = computed(() => props.common.kind === 'numeric' || props.common.kind === 'date')
const isPlaced = computed(
  () => !isNumeric.value && (props.look?.parts ?? []).some((part) => part?.answers.length),
)
const over = ref<string>()

function answersAt(source: number, to: Place) {
  const part = props.look?.parts[source]
  return (part?.answers ?? []).filter((answer) =>
    to === undefined ? !answer.is_placed : answer.is_placed && (answer.placed ?? null) === to,
  )
}

function move(source: number, answer: string, to: Place) {
  emit('change', placed(props.common, source, answer, to))
}

/** 1 to 9: that common answer; 0: set aside; Backspace: not placed. */
function byKey(source: number, answer: string, key: string) {
  const n = Number(key)
  if (key === 'Backspace' || key === 'Delete') move(source, answer, undefined)
  else if (n === 0 && key === '0') move(source, answer, null)
  else if (n >= 1 && n <= props.common.categories.length)
    move(source, answer, props.common.categories[n - 1]!.value)
}

function drop(event: DragEvent, source: number, to: Place) {
  over.value = undefined
  const [from, ...answer] = (event.dataTransfer?.getData('text/plain') ?? '').split(' ')
  if (props.mayChange && Number(from) === source) move(source, answer.join(' '), to)
}

function setFactor(source: number, text: string, putBack: () => void) {
  const factor = Number(text.replace(',', '.'))
  if (factor > 0) emit('change', withTaken(props.common, source, { factor }))
  else putBack()
}
</script>

<template>
  <p v-if="isPlaced && mayChange" class="quiet">
    Move each answer beside the common one it belongs to, or press its number; 0 sets it aside.
  </p>
  <div class="scroll">
    <table class="harmony">
      <thead>
        <tr>
          <th scope="col">{{ isNumeric ? '' : 'Common answer' }}</th>
          <th v-for="(source, i) in sources" :key="source.id" scope="col">
            {{ source.name }}
            <small class="quiet">
              <VariableField
                :entries="codebooks[i] ?? []"
                :chosen="common.taken[i]?.variable"
                :label="`Variable of ${source.name}`"
                empty="nothing taken"
                clearable
                :disabled="!mayChange"
                @choose="emit('take', i, $event)"
              />
            </small>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-if="isNumeric || common.cuts.length">
          <th scope="row" class="quiet">{{ isNumeric ? 'as it is, times' : 'numbers, times' }}</th>
          <td v-for="(source, i) in sources" :key="source.id">
            <template v-if="common.taken[i] && look?.parts[i]?.kind === 'numeric'">
              <DraftInput
                :value="common.taken[i].factor"
                class="line factor"
                :aria-label="`Factor for ${source.name}`"
                :disabled="!mayChange"
                @take="(text, putBack) => setFactor(i, text, putBack)"
              />
              <small v-if="look.parts[i].median !== null" class="quiet">
                median {{ short(look.parts[i].median) }} {{ common.unit }}</small
              >
            </template>
          </td>
        </tr>
        <tr
          v-for="(row, k) in rows"
          :key="row.label"
          :class="{ aside: row.to === null, open: row.to === undefined }"
        >
          <th scope="row">
            <CommonAnswer
              v-if="row.value !== undefined"
              :at="k"
              :label="row.label"
              :may-change="mayChange"
              :may-go="mayChange && !common.cuts.length"
              @rename="emit('change', withAnswer(common, $event, row.value))"
              @remove="emit('change', withoutAnswer(common, row.value!))"
            />
            <template v-else>{{ row.label }}</template>
          </th>
          <td
            v-for="(source, i) in sources"
            :key="source.id"
            :class="{ over: over === `${i} ${k}` }"
            @dragover.prevent="over = `${i} ${k}`"
            @dragleave="over = undefined"
            @drop.prevent="drop($event, i, row.to)"
          >
            <PlacedAnswer
              v-for="answer in answersAt(i, row.to)"
              :key="answer.value"
              :answer="answer"
              :source="i"
              :is-open="row.to === undefined"
              :may-change="mayChange"
              @press="byKey(i, answer.value, $event)"
            />
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.harmony {
  border-collapse: collapse;
  width: 100%;
}
th {
  text-align: left;
  font-weight: 400;
  vertical-align: top;
  padding: 8px 12px 8px 0;
}
thead th {
  border-top: 1px solid var(--ink);
  border-bottom: 1px solid var(--ink);
  font-weight: 600;
}
thead small {
  display: block;
  font-weight: 400;
}
td {
  vertical-align: top;
  padding: 6px 10px 6px 0;
  border-bottom: 1px solid var(--hairline);
  min-width: 110px;
}
tbody th {
  border-bottom: 1px solid var(--hairline);
  white-space: nowrap;
}
td.over {
  background: var(--pine-soft);
}
.aside td,
.aside th {
  background: repeating-linear-gradient(
    -45deg,
    transparent 0 6px,
    color-mix(in srgb, var(--more-1) 55%, transparent) 6px 12px
  );
}
.open th {
  color: var(--care);
}
.factor {
  width: 80px;
}
</style>
