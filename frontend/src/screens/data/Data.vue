<script setup lang="ts">
/** The data sets of a study: bring a file, check its preview, see its rows. */
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, unwrap } from '@/api/client'
import { keys, useDatasets, useRefresh } from '@/api/queries'
import type { DataSet, Study } from '@/api/types'
import { fileSize, plural } from '@/design/numbers'
import { useKeptInView } from '@/inView'
import ErrorNote from '@/parts/ErrorNote.vue'
import { useNotices } from '@/notices'
import BringFile from './BringFile.vue'
import NextWays from './bring/NextWays.vue'
import { madeWords } from './bring/recipes'
import Road from './bring/Road.vue'
import ImportPreview from './ImportPreview.vue'
import ReplacementReport from './ReplacementReport.vue'
import JobList from './JobList.vue'
import RowCounting from './RowCounting.vue'
import RowsTable from './RowsTable.vue'
import TakeOut from './TakeOut.vue'
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
type Bringing = 'file' | 'typed' | 'newer' | undefined
const bringing = ref<Bringing>()
watch(current, () => (bringing.value = undefined))

const day = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' })

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

/** What it comes from: its file, or the data sets it is made of. */
function originOf(dataset: DataSet): string {
  if (!dataset.made) return `${dataset.file_name}, ${fileSize(dataset.size)}`
  const all = datasets.data.value ?? []
  const named = dataset.made.sources.map((id) => all.find((each) => each.id === id)?.name)
  return `${madeWords[dataset.made.recipe]} ${named.map((name) => name ?? 'one that was deleted').join(', ')}`
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
        <template v-else>
          <BringFile :study="study" :may-change="mayChange" @brought="open" />
          <p v-if="mayChange">
            <button class="act" @click="bringing = 'typed'">Or type a table of counts</button>
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
        <ul class="sources" aria-label="Data sets">
          <li
            v-for="dataset in datasets.data.value"
            :key="dataset.id"
            class="source"
            :class="{ on: dataset.id === current.id }"
          >
            <router-link
              :to="{ name: 'data', params: { study: study.id, dataset: dataset.id } }"
              class="name"
              :aria-current="dataset.id === current.id ? 'page' : undefined"
              >{{ dataset.name }}</router-link
            >
            <span class="quiet"
              >{{ plural(dataset.rows, dataset.noun_one, dataset.noun_many) }} ·
              {{ originOf(dataset) }} · {{ day.format(new Date(dataset.imported_at)) }},
              {{ dataset.imported_by }}</span
            >
            <span v-if="dataset.is_draft" class="draft">not confirmed yet</span>
            <span v-if="dataset.made?.trouble" class="draft">could not be made again</span>
            <span v-else-if="dataset.made?.behind.length" class="draft"
              >{{ dataset.made.behind.join(', ') }} changed since</span
            >
            <button
              v-if="mayChange"
              class="act"
              :aria-label="`Delete ${dataset.name}`"
              @click="remove(dataset)"
            >
              Delete
            </button>
          </li>
          <li v-if="mayChange" class="source more">
            <button class="act" @click="bringing = bringing === 'file' ? undefined : 'file'">
              + Bring another file
            </button>
            <button class="act" @click="bringing = bringing === 'typed' ? undefined : 'typed'">
              + Type a table
            </button>
            <button
              v-if="!current.is_draft && !current.made"
              class="act"
              @click="bringing = bringing === 'newer' ? undefined : 'newer'"
            >
              Replace by a newer file
            </button>
            <router-link
              v-if="!current.is_draft"
              class="act"
              :to="{ name: 'bring', params: { study: study.id }, query: { from: current.id } }"
              >Bring together</router-link
            >
          </li>
        </ul>
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
        <ImportPreview
          v-if="current.is_draft"
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
          <p v-if="current.made">
            <router-link
              class="act"
              :to="{ name: 'made', params: { study: study.id, dataset: current.id } }"
              >How it is made</router-link
            >
          </p>
          <RowCounting :study="study" :dataset="current" :may-change="mayChange" />
          <RowsTable :key="current.id" :study="study" :dataset="current">
            <TakeOut :study="study" :dataset="current" />
          </RowsTable>
        </template>
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
.sources {
  list-style: none;
  margin: 0;
  padding: 0;
}
.source {
  display: flex;
  gap: 14px;
  align-items: baseline;
  padding: 7px 12px;
  border-left: 2px solid var(--hairline);
  flex-wrap: wrap;
}
.source.on {
  border-color: var(--pine);
  background: var(--pine-soft);
  border-radius: 0 6px 6px 0;
}
.name {
  font-weight: 600;
  text-decoration: none;
  color: var(--ink);
}
.source .act {
  margin-left: auto;
}
.source.more .act {
  margin-left: 0;
}
.draft {
  color: var(--care);
  background: var(--care-soft);
  border-radius: 9px;
  padding: 0 9px;
  font-size: 0.87rem;
}
</style>
