<script setup lang="ts">
/** What a row is called, how it counts, and how the data came about. Shown with every answer. */
import { titleOf } from '@/parts/kinds'
import { computed, ref, watch } from 'vue'

import { client, Problem, unwrap } from '@/api/client'
import { keys, useCodebook, useRefresh } from '@/api/queries'
import type { DataSet, DataSetChange, Study } from '@/api/types'
import ErrorNote from '@/parts/ErrorNote.vue'
import { categoricalItems, numericItems } from './design'
import DesignEditor from './DesignEditor.vue'
import RowsPerCase from './RowsPerCase.vue'
import TermsOfUse from './TermsOfUse.vue'

const props = defineProps<{ study: Study; dataset: DataSet; mayChange: boolean }>()
const emit = defineEmits<{ newer: [dataset: { id: string }] }>()
const refresh = useRefresh()
const codebook = useCodebook(
  () => props.study.id,
  () => props.dataset.id,
)
const error = ref<Error>()
const one = ref(props.dataset.noun_one)
const many = ref(props.dataset.noun_many)
watch(
  () => [props.dataset.noun_one, props.dataset.noun_many] as const,
  ([first, second]) => {
    one.value = first
    many.value = second
  },
)

const design = computed(() =>
  props.dataset.counted_by.kind === 'design' ? props.dataset.counted_by : undefined,
)
const wantsDesign = ref(false)
const all = computed(() => codebook.data.value ?? [])
const numeric = computed(() => numericItems(all.value))
const statuses = computed(() => [
  { title: 'not said: any outcome', value: '' },
  ...categoricalItems(all.value),
])

/** Sets may be told by anything, names of sets as well. */
const sets = computed(() => [
  { title: 'not matched', value: '' },
  ...all.value.map(({ variable }) => ({ title: titleOf(variable), value: variable.name })),
])

type Choice = 'each' | 'design' | `n:${string}`
const choices = computed(() => [
  { title: `each ${props.dataset.noun_one} once`, value: 'each' },
  { title: 'by a survey design', value: 'design' },
  ...numeric.value.map(({ title, value }) => ({
    title: `as many times as ${title} says`,
    value: `n:${value}`,
  })),
])
const counted = computed({
  get: (): Choice => {
    const now = props.dataset.counted_by
    if (wantsDesign.value || now.kind === 'design') return 'design'
    return now.kind === 'counts' ? `n:${now.variable}` : 'each'
  },
  set: (choice: Choice) => {
    wantsDesign.value = choice === 'design' && !design.value
    if (choice === 'each') change({ counted_by: { kind: 'each' } })
    else if (choice !== 'design')
      change({ counted_by: { kind: 'counts', variable: choice.slice(2) } })
  },
})

const studyDesigns = [
  { title: 'not said', value: '' },
  { title: 'cross-sectional survey', value: 'cross_sectional' },
  { title: 'cohort', value: 'cohort' },
  { title: 'case–control study', value: 'case_control' },
  { title: 'trial', value: 'trial' },
]

async function change(changes: Omit<DataSetChange, 'version'>) {
  error.value = undefined
  try {
    await unwrap(
      client.PATCH('/api/studies/{study_id}/datasets/{dataset_id}', {
        params: { path: { study_id: props.study.id, dataset_id: props.dataset.id } },
        body: { version: props.dataset.version, ...changes },
      }),
    )
    wantsDesign.value = false
  } catch (reason) {
    error.value = reason as Error
    if (!(reason instanceof Problem && reason.status === 409)) return
  }
  await refresh(...keys.study(props.study.id))
}

function rename() {
  const unchanged = one.value === props.dataset.noun_one && many.value === props.dataset.noun_many
  if (!unchanged && one.value.trim() && many.value.trim())
    change({ noun_one: one.value, noun_many: many.value })
}
</script>

<template>
  <section class="counting" aria-label="How rows count">
    <label class="noun">
      <span class="quiet">A row is a</span>
      <input
        v-model="one"
        maxlength="40"
        :disabled="!mayChange"
        aria-label="What one row is called"
        @change="rename"
      />
    </label>
    <label class="noun">
      <span class="quiet">many are</span>
      <input
        v-model="many"
        maxlength="40"
        :disabled="!mayChange"
        aria-label="What many rows are called"
        @change="rename"
      />
    </label>
    <v-select
      v-model="counted"
      :items="choices"
      label="Counted"
      :disabled="!mayChange"
      class="choice"
    />
    <v-select
      :model-value="dataset.study_design"
      :items="studyDesigns"
      label="Study design"
      :disabled="!mayChange"
      class="choice"
      @update:model-value="change({ study_design: $event })"
    />
    <v-select
      v-if="dataset.study_design === 'case_control'"
      :model-value="dataset.case_status"
      :items="statuses"
      label="Cases are told by"
      :disabled="!mayChange"
      class="choice"
      @update:model-value="change({ case_status: $event })"
    />
    <v-select
      v-if="dataset.study_design === 'case_control' && !dataset.place"
      :model-value="dataset.matched_on"
      :items="sets"
      label="Matched in sets told by"
      :disabled="!mayChange"
      class="choice"
      @update:model-value="change({ matched_on: $event })"
    />
    <RowsPerCase
      v-if="!dataset.place"
      :study="study"
      :dataset="dataset"
      :codebook="all"
      :may-change="mayChange"
      :change="change"
    />
    <DesignEditor
      v-if="counted === 'design'"
      :study="study"
      :dataset="dataset"
      :codebook="all"
      :may-change="mayChange"
      :change="(counting) => change({ counted_by: counting })"
    />
    <TermsOfUse
      class="all"
      :study="study"
      :dataset="dataset"
      :may-change="mayChange"
      :change="change"
      @newer="emit('newer', $event)"
    />
    <ErrorNote :error="error" />
  </section>
</template>

<style scoped>
.counting {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 12px 18px;
}
.noun {
  display: flex;
  gap: 8px;
  align-items: baseline;
}
.noun input {
  width: 100px;
  border: 0;
  border-bottom: 2px solid var(--pine);
  font: inherit;
  color: var(--ink);
  background: transparent;
  padding: 2px 4px;
}
.all {
  flex: 1 1 100%;
}
.choice {
  flex: 0 1 225px;
}
</style>
