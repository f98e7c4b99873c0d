<script setup lang="ts">
/** What a row is called, and how it counts. Shown with every answer. */
import { computed, ref, watch } from 'vue'

import { client, Problem, unwrap } from '@/api/client'
import { keys, useCodebook, useRefresh } from '@/api/queries'
import type { DataSet, DataSetChange, Study } from '@/api/types'
import ErrorNote from '@/parts/ErrorNote.vue'
import { titleOf } from '@/parts/kinds'

const props = defineProps<{ study: Study; dataset: DataSet; mayChange: boolean }>()
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

const EACH = ''
const choices = computed(() => [
  { title: `each ${props.dataset.noun_one} once`, value: EACH },
  ...(codebook.data.value ?? [])
    .filter(({ variable }) => variable.kind === 'numeric')
    .map(({ variable }) => ({
      title: `as many times as ${titleOf(variable)} says`,
      value: variable.name,
    })),
])
const counted = computed({
  get: () =>
    props.dataset.counted_by.kind === 'counts' ? props.dataset.counted_by.variable : EACH,
  set: (variable) =>
    change({
      counted_by: variable === EACH ? { kind: 'each' } : { kind: 'counts', variable },
    }),
})

async function change(changes: Omit<DataSetChange, 'version'>) {
  error.value = undefined
  try {
    await unwrap(
      client.PATCH('/api/studies/{study_id}/datasets/{dataset_id}', {
        params: { path: { study_id: props.study.id, dataset_id: props.dataset.id } },
        body: { version: props.dataset.version, ...changes },
      }),
    )
  } catch (reason) {
    error.value = reason as Error
    if (!(reason instanceof Problem && reason.status === 409)) return
  }
  await refresh(...keys.datasets(props.study.id))
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
  width: 120px;
  border: 0;
  border-bottom: 2px solid var(--pine);
  font: inherit;
  color: var(--ink);
  background: transparent;
  padding: 2px 4px;
}
.choice {
  flex: 0 1 340px;
}
</style>
