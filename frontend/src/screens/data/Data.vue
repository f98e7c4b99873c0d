<script setup lang="ts">
/** The data sets of a study: bring a file, check its preview, see its rows. */
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, unwrap } from '@/api/client'
import { keys, useDatasets, useRefresh } from '@/api/queries'
import type { DataSet, Study } from '@/api/types'
import { useKeptInView } from '@/inView'
import ErrorNote from '@/parts/ErrorNote.vue'
import { useNotices } from '@/notices'
import BringFile from './BringFile.vue'
import Road from './bring/Road.vue'
import ImportPreview from './ImportPreview.vue'
import ReplacementReport from './ReplacementReport.vue'
import DataSetList from './DataSetList.vue'
import JobList from './JobList.vue'
import LenderList from './LenderList.vue'
import PlaceList from './PlaceList.vue'
import RowCounting from './RowCounting.vue'
import RowsTable from './RowsTable.vue'
import TakeOut from './TakeOut.vue'
import TermsAsked from '@/parts/TermsAsked.vue'
import TypedTable from './TypedTable.vue'

const props = defineProps<{ study: Study }>()
const route = useRoute()
const router = useRouter()
const notices = useNotices()
const refresh = useRefresh()
const datasets = useDatasets(() => props.study.id)
const mayChange = computed(() => props.study.role !== 'reader')

const current = computed<DataSet | undefined>(() => {
  const all = datasets.data.value ?? []
  return all.find((dataset) => dataset.id === route.params.dataset) ?? all[0]
})
useKeptInView(
  () => props.study.id,
  () => current.value?.id,
)
type Bringing = 'file' | 'typed' | 'newer' | 'lent' | 'linked' | undefined
const bringing = ref<Bringing>()
watch(current, () => (bringing.value = undefined))

/** Going there first: whoever has gone elsewhere once everything is asked anew stays there. */
async function open(dataset: { id: string }) {
  bringing.value = undefined
  await router.push({ name: 'data', params: { study: props.study.id, dataset: dataset.id } })
  await refresh(...keys.study(props.study.id))
}

async function remove(dataset: DataSet) {
  const params = { path: { study_id: props.study.id, dataset_id: dataset.id } }
  const again = () => refresh(...keys.study(props.study.id))
  try {
    await unwrap(client.DELETE('/api/studies/{study_id}/datasets/{dataset_id}', { params }))
    await again()
    const resting = restingOn(dataset)
    const rest = resting.length ? ` ${resting.join(', ')} rest on it, and stay as they are.` : ''
    notices.say(`“${dataset.name}” was deleted, with its questions.${rest}`, async () => {
      await unwrap(client.POST('/api/studies/{study_id}/datasets/{dataset_id}/restore', { params }))
      await again()
    })
  } catch (error) {
    notices.complain(error)
  }
}

function restingOn(dataset: DataSet): string[] {
  const all = datasets.data.value ?? []
  return all.filter(({ made }) => made?.sources.includes(dataset.id)).map(({ name }) => `“${name}”`)
}

/** A table that was typed has nothing to look at: whoever typed it wants to ask. */
async function ask(made: DataSet) {
  await refresh(...keys.study(props.study.id))
  await router.push({ name: 'ask', params: { study: props.study.id }, query: { about: made.id } })
}
</script>

<template>
  <main class="data">
    <ErrorNote v-if="datasets.isError.value" :error="datasets.error.value" />
    <template v-else-if="datasets.data.value">
      <JobList :study="study" :may-change="mayChange" @brought="open" />
      <template v-if="!current">
        <TypedTable
          v-if="bringing === 'typed'"
          :study="study"
          @brought="ask"
          @close="bringing = undefined"
        />
        <LenderList v-else-if="bringing === 'lent'" :study="study" :datasets="[]" @brought="open" />
        <PlaceList
          v-else-if="bringing === 'linked'"
          :study="study"
          :datasets="[]"
          @linking="bringing = undefined"
        />
        <template v-else>
          <BringFile :study="study" :may-change="mayChange" @brought="open" />
          <p v-if="mayChange" class="choices">
            <button class="act" @click="bringing = 'typed'">Or type a table of counts</button>
            <button class="act" @click="bringing = 'lent'">Or bring in what a lender offers</button>
            <button class="act" @click="bringing = 'linked'">
              Or link data that stay where they are
            </button>
          </p>
        </template>
      </template>
      <template v-else>
        <Road
          v-if="datasets.data.value.some(({ made }) => made)"
          :study="study"
          :datasets="datasets.data.value"
          :current="current.id"
        />
        <div class="sides">
          <DataSetList
            :study="study"
            :datasets="datasets.data.value"
            :current="current"
            :may-change="mayChange"
            @turn="bringing = bringing === $event ? undefined : $event"
            @remove="remove"
          />
          <div class="shown">
            <BringFile
              v-if="bringing === 'file'"
              :study="study"
              :may-change="mayChange"
              @brought="open"
            />
            <BringFile
              v-else-if="bringing === 'newer'"
              :study="study"
              :may-change="mayChange"
              :replaces="current"
              @brought="open"
            />
            <TypedTable
              v-else-if="bringing === 'typed'"
              :study="study"
              @brought="ask"
              @close="bringing = undefined"
            />
            <LenderList
              v-else-if="bringing === 'lent'"
              :study="study"
              :datasets="datasets.data.value"
              @brought="open"
            />
            <PlaceList
              v-else-if="bringing === 'linked'"
              :study="study"
              :datasets="datasets.data.value"
              @linking="bringing = undefined"
            />
            <TermsAsked
              v-if="current.terms_asked.length"
              :key="`terms-${current.id}`"
              :study="study"
              :dataset="current"
            />
            <ImportPreview
              v-else-if="current.is_draft"
              :key="current.id"
              :study="study"
              :dataset="current"
              @discard="remove(current)"
            />
            <template v-else>
              <ReplacementReport
                v-if="current.report"
                :key="`report-${current.id}`"
                :study="study"
                :dataset="current"
                :may-change="mayChange"
                @put-back="open"
              />
              <RowCounting
                :study="study"
                :dataset="current"
                :may-change="mayChange"
                @newer="open"
              />
              <RowsTable :key="current.id" :study="study" :dataset="current">
                <TakeOut v-if="!current.place" :study="study" :dataset="current" />
              </RowsTable>
            </template>
          </div>
        </div>
      </template>
    </template>
  </main>
</template>

<style scoped>
.data {
  padding: 16px 24px 20px;
  display: flex;
  flex-direction: column;
  gap: 16px;
  min-height: calc(100vh - 52px);
}
.sides {
  display: grid;
  grid-template-columns: 240px minmax(0, 1fr);
  gap: 26px;
  flex: 1;
}
.shown {
  display: flex;
  flex-direction: column;
  gap: 16px;
  min-width: 0;
}
@media (max-width: 900px) {
  .sides {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
