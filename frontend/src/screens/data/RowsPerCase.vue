<script setup lang="ts">
/** Whether a case has one row or several, what tells cases apart and what puts their rows in order. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { client, unwrap } from '@/api/client'
import type { DataSet, DataSetChange, Entry, Study } from '@/api/types'
import ErrorNote from '@/parts/ErrorNote.vue'
import FindingList from './bring/FindingList.vue'
import { itemsOf } from './design'

type Cases = DataSet['cases']

const props = defineProps<{
  study: Study
  dataset: DataSet
  codebook: Entry[]
  mayChange: boolean
  change: (changes: Omit<DataSetChange, 'version'>) => Promise<void>
}>()

const cases = computed(() => props.dataset.cases)
const items = computed(() => itemsOf(props.codebook))
const numbersOrOrders = computed(() =>
  itemsOf(props.codebook.filter(({ variable }) => variable.kind !== 'text')),
)
const look = useQuery({
  queryKey: computed(() => [
    'study',
    props.study.id,
    'cases',
    props.dataset.id,
    props.dataset.version,
    cases.value,
  ]),
  queryFn: () =>
    unwrap(
      client.POST('/api/studies/{study_id}/datasets/{dataset_id}/cases', {
        params: { path: { study_id: props.study.id, dataset_id: props.dataset.id } },
        body: cases.value,
      }),
    ),
  enabled: () => !!cases.value.case,
})

function put(changes: Partial<Cases>) {
  const next = { ...cases.value, ...changes }
  if (!next.case) Object.assign(next, { rows: 'one', order: null })
  void props.change({ cases: next })
}
</script>

<template>
  <v-select
    :model-value="cases.case ?? null"
    :items="items"
    label="Cases are told apart by"
    clearable
    :disabled="!mayChange"
    class="choice"
    @update:model-value="put({ case: $event })"
  />
  <v-select
    v-if="cases.case"
    :model-value="cases.rows"
    :items="[
      { title: 'one row per case', value: 'one' },
      { title: 'several rows per case', value: 'several' },
    ]"
    label="Rows"
    :disabled="!mayChange"
    class="choice"
    @update:model-value="put({ rows: $event })"
  />
  <v-select
    v-if="cases.rows === 'several'"
    :model-value="cases.order ?? null"
    :items="numbersOrOrders"
    label="In the order of"
    clearable
    :disabled="!mayChange"
    class="choice"
    @update:model-value="put({ order: $event })"
  />
  <div v-if="cases.case && look.data.value" class="found">
    <FindingList :findings="look.data.value.findings" />
  </div>
  <ErrorNote :error="look.error.value ?? undefined" />
</template>

<style scoped>
.choice {
  flex: 0 1 220px;
}
.found {
  flex: 1 1 100%;
}
</style>
