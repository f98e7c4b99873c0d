<script setup lang="ts">
/** One variable: its label and kind, its categories in order, what is made from it. */
import { computed, ref, watch, type Component } from 'vue'

import type { DataSet, Entry, Kind, Step, Study } from '@/api/types'
import { useMakeStep } from '@/api/useSteps'
import { short } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'
import { canBeAsked, isCategorical, titleOf, withinSentence } from '@/parts/kinds'
import Miniature from '@/parts/Miniature.vue'
import BandEditor from './BandEditor.vue'
import CalculateEditor from './CalculateEditor.vue'
import CategoryList from './CategoryList.vue'
import DatesEditor from './DatesEditor.vue'
import DateForms from './DateForms.vue'
import KindChoice from './KindChoice.vue'
import MissingCodes from './MissingCodes.vue'
import RegroupEditor from './RegroupEditor.vue'
import StepList from './StepList.vue'
import ToLookAt from './ToLookAt.vue'
import YesNoEditor from './YesNoEditor.vue'
import { reasonsToLook } from './look'
import { describe, freeName } from './steps'

type Editor = 'regroup' | 'yes_no' | 'band' | 'calculate' | 'dates'

const props = defineProps<{
  study: Study
  dataset: DataSet
  entry: Entry
  codebook: Entry[]
  mayChange: boolean
}>()
const emit = defineEmits<{ made: [name: string] }>()

const steps = useMakeStep(
  () => props.study.id,
  () => props.dataset.id,
)
const error = ref<Error>()
/** How often a change was refused: what was typed then makes way for what stands. */
const refusals = ref(0)
const open = ref<Editor>()
const label = ref(props.entry.variable.label)
watch(
  () => props.entry.variable.label,
  (now) => (label.value = now),
)
const variable = computed(() => props.entry.variable)
const hasCategories = computed(() => isCategorical(variable.value))
const reasons = computed(() => reasonsToLook(props.entry, props.dataset.rows))
const editors = computed<[Editor, string][]>(() => [
  ...(hasCategories.value
    ? ([
        ['regroup', 'Regroup…'],
        ['yes_no', 'Yes or no…'],
      ] as [Editor, string][])
    : []),
  ...(variable.value.kind === 'numeric' ? ([['band', 'Band…']] as [Editor, string][]) : []),
  ...(variable.value.kind === 'date' ? ([['dates', 'Of these dates…']] as [Editor, string][]) : []),
  ...(canBeAsked(variable.value) ? ([['calculate', 'Calculate…']] as [Editor, string][]) : []),
])

const editorOf = {
  regroup: RegroupEditor,
  yes_no: YesNoEditor,
  band: BandEditor,
  calculate: CalculateEditor,
  dates: DatesEditor,
} as Record<Editor, Component>

async function make(step: Step) {
  error.value = undefined
  try {
    await steps.make(step, [props.entry])
    if ('name' in step) {
      open.value = undefined
      emit('made', step.name)
    }
  } catch (reason) {
    error.value = reason as Error
    refusals.value += 1
    restoreLabel()
  }
}

function restoreLabel() {
  label.value = props.entry.variable.label
}

function rename() {
  const now = label.value.trim()
  if (now !== variable.value.label) make(describe(variable.value.name, { label: now }))
}

function setKind(kind: Kind) {
  if (kind !== variable.value.kind) make(describe(variable.value.name, { kind }))
}

/** Two categories dropped on one another become one; the original stays. */
function combine(first: string, second: string) {
  const labels = Object.fromEntries(
    variable.value.categories.map((category) => [category.value, category.label]),
  )
  const groups = variable.value.categories
    .filter(({ value }) => value !== first)
    .map(({ value, label }) =>
      value === second
        ? { label: `${label} or ${labels[first]}`, values: [second, first] }
        : { label, values: [value] },
    )
  const name = freeName(`${variable.value.name}_combined`, props.codebook)
  const title = `${withinSentence(variable.value)}, combined`
  make({ step: 'regroup', variable: variable.value.name, name, label: title, groups })
}
</script>

<template>
  <aside class="panel" :aria-label="`Variable ${titleOf(variable)}`">
    <textarea
      v-model="label"
      class="label serif"
      rows="1"
      :disabled="!mayChange"
      :placeholder="variable.name"
      aria-label="Label"
      maxlength="500"
      @change="rename"
      @keydown.enter.prevent="($event.target as HTMLElement).blur()"
      @keydown.escape="restoreLabel"
    />
    <p class="quiet from">
      {{ variable.name
      }}<template v-if="!entry.made_from.length"> · from {{ dataset.file_name }}</template> ·
      {{ entry.reason }}
    </p>
    <KindChoice :kind="variable.kind" :may-change="mayChange" @choose="setKind" />
    <DateForms
      v-if="variable.kind === 'date' && !entry.made_from.length"
      :form="variable.date_form ?? 'ymd'"
      :may-change="mayChange"
      @choose="make(describe(variable.name, { date_form: $event }))"
    />
    <ErrorNote :error="error" />
    <ToLookAt class="asked" :entry="entry" :looks="reasons" :may-change="mayChange" @step="make" />
    <CategoryList
      v-if="hasCategories"
      :key="`categories-${refusals}`"
      :entry="entry"
      :may-change="mayChange"
      @step="make"
      @combine="combine"
    />
    <template v-else>
      <div v-if="open !== 'band'" class="picture"><Miniature :entry="entry" /></div>
      <p v-if="entry.summary.kind === 'dates' && entry.summary.first" class="quiet">
        {{ entry.summary.first }} to {{ entry.summary.last }}
      </p>
      <p v-if="entry.summary.kind === 'numbers' && entry.summary.low != null" class="quiet">
        {{ short(entry.summary.low) }} to
        {{ [short(entry.summary.high!), variable.unit].join(' ').trim() }}, mean
        {{ short(entry.summary.mean!) }}
      </p>
    </template>
    <section v-if="mayChange && editors.length" class="making" aria-label="Make from this">
      <h3 class="overline">Make from this</h3>
      <p class="choices">
        <button
          v-for="[name, words] in editors"
          :key="name"
          class="act"
          :aria-expanded="open === name"
          @click="open = open === name ? undefined : name"
        >
          {{ words }}
        </button>
      </p>
      <component
        :is="editorOf[open]"
        v-if="open"
        v-bind="open === 'band' ? { study, dataset } : {}"
        :entry="entry"
        :codebook="codebook"
        @step="make"
        @close="open = undefined"
      />
    </section>
    <MissingCodes
      v-if="!entry.made_from.length"
      :key="`missing-${refusals}`"
      :entry="entry"
      :may-change="mayChange"
      @step="make"
    />
    <StepList :study="study" :dataset="dataset" :may-change="mayChange" />
  </aside>
</template>

<style scoped>
.panel {
  background: var(--sheet);
  border-left: 1px solid var(--hairline);
  padding: 16px 22px 40px;
  overflow-y: auto;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.label {
  font-size: 1.45rem;
  font-weight: 600;
  line-height: 1.2;
  border: 0;
  background: none;
  color: var(--ink);
  width: 100%;
  resize: none;
  padding: 0;
  field-sizing: content;
  overflow-wrap: anywhere;
  flex: none;
}
.label:focus {
  outline: none;
  border-bottom: 2px solid var(--pine);
}
.from {
  margin-top: -6px;
  overflow-wrap: anywhere;
}
.asked {
  display: grid;
  gap: 10px;
}
.asked :deep(.look) {
  background: var(--care-soft);
  border-radius: 6px;
  padding: 6px 10px;
  font-size: 0.93rem;
}
.picture :deep(.miniature) {
  height: 90px;
}
.choices {
  display: flex;
  gap: 18px;
}
</style>
