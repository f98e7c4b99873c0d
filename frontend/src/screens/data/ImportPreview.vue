<script setup lang="ts">
/** How a new file was understood, and why; confirmed before questions are asked of it. */
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import { client, unwrap } from '@/api/client'
import { keys, useCodebook, useRefresh } from '@/api/queries'
import { useMakeStep } from '@/api/useSteps'
import type { DataSet, Entry, Kind, Study } from '@/api/types'
import { plural } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'
import { kinds } from '@/parts/kinds'
import Miniature from '@/parts/Miniature.vue'
import { describe } from '../codebook/steps'
import ToLookAt from '../codebook/ToLookAt.vue'
import CodebookFile from './CodebookFile.vue'
import ReadOptions, { type ReadAs } from './ReadOptions.vue'
import RowsTable from './RowsTable.vue'

const props = defineProps<{ study: Study; dataset: DataSet }>()
defineEmits<{ discard: [] }>()

const router = useRouter()
const refresh = useRefresh()
const codebook = useCodebook(
  () => props.study.id,
  () => props.dataset.id,
)
const steps = useMakeStep(
  () => props.study.id,
  () => props.dataset.id,
)
const error = ref<Error>()
const isBusy = ref(false)
const onlyDoubtful = ref(false)
const isNoSummary = ref(false)
const codebookFile = ref<File>()
const mayCount = computed(
  () =>
    !!props.dataset.counts_candidate &&
    !isNoSummary.value &&
    props.dataset.counted_by.kind === 'each',
)

const kindChoices = Object.entries(kinds).map(([value, { words }]) => ({ value, title: words }))

const doubtful = computed(
  () => codebook.data.value?.filter((entry) => entry.to_look_at.length) ?? [],
)
const shown = computed(() => (onlyDoubtful.value ? doubtful.value : (codebook.data.value ?? [])))
const path = computed(() => ({ study_id: props.study.id, dataset_id: props.dataset.id }))

async function attempt(work: () => Promise<unknown>) {
  isBusy.value = true
  error.value = undefined
  try {
    await work()
    await refresh(...keys.study(props.study.id))
  } catch (reason) {
    error.value = reason as Error
  } finally {
    isBusy.value = false
  }
}

function reread(options: ReadAs) {
  return attempt(() =>
    unwrap(
      client.POST('/api/studies/{study_id}/datasets/{dataset_id}/reread', {
        params: { path: path.value },
        body: options as never,
      }),
    ),
  )
}

async function described() {
  codebookFile.value = undefined
  await refresh(...keys.study(props.study.id))
}

/** Each row is a group: its counts column says how many. */
async function countBy(name: string) {
  const entry = codebook.data.value?.find(({ variable }) => variable.name === name)
  await attempt(async () => {
    if (entry && entry.variable.kind !== 'numeric')
      await steps.make(describe(name, { kind: 'numeric' }), [entry])
    const fresh = await unwrap(
      client.GET('/api/studies/{study_id}/datasets/{dataset_id}', { params: { path: path.value } }),
    )
    await unwrap(
      client.PATCH('/api/studies/{study_id}/datasets/{dataset_id}', {
        params: { path: path.value },
        body: { version: fresh.version, counted_by: { kind: 'counts', variable: name } },
      }),
    )
  })
}

function setKind(entry: Entry, kind: Kind) {
  return attempt(() => steps.make(describe(entry.variable.name, { kind }), [entry]))
}

async function confirm() {
  await attempt(() =>
    unwrap(
      client.PATCH('/api/studies/{study_id}/datasets/{dataset_id}', {
        params: { path: path.value },
        body: { version: props.dataset.version, confirmed: true },
      }),
    ),
  )
  if (!error.value)
    router.push({ name: 'codebook', params: { study: props.study.id, dataset: props.dataset.id } })
}
</script>

<template>
  <section class="preview" aria-label="How the file was understood">
    <div class="top">
      <p class="serif lead">
        {{ plural(dataset.rows, 'row', 'rows') }} and
        {{ plural(codebook.data.value?.length ?? 0, 'variable', 'variables') }}, understood as
        below.
        <template v-if="doubtful.length">
          {{ plural(doubtful.length, 'variable has', 'variables have') }} something to look
          at.</template
        >
      </p>
      <button class="act" @click="$emit('discard')">Discard</button>
      <v-btn color="primary" :loading="isBusy" @click="confirm">Use this data</v-btn>
    </div>
    <p v-if="mayCount" class="asked">
      Each row looks like a group. Does <b>{{ dataset.counts_candidate }}</b> hold counts?
      <button class="act" @click="countBy(dataset.counts_candidate)">Yes, it counts</button>
      <button class="act" @click="isNoSummary = true">No, each row is one case</button>
    </p>
    <ReadOptions :dataset="dataset" @reread="reread" @describe-by="codebookFile = $event" />
    <CodebookFile
      v-if="codebookFile"
      :study="study"
      :dataset="dataset"
      :file="codebookFile"
      @used="described"
      @away="codebookFile = undefined"
    />
    <ErrorNote :error="error" />
    <ul v-if="dataset.remarks.length" class="remarks">
      <li v-for="remark in dataset.remarks" :key="remark">{{ remark }}</li>
    </ul>
    <p v-if="doubtful.length" class="filter">
      <button class="act" :aria-pressed="onlyDoubtful" @click="onlyDoubtful = !onlyDoubtful">
        {{ onlyDoubtful ? 'Show all variables' : `Only those to look at (${doubtful.length})` }}
      </button>
    </p>
    <ul class="entries" aria-label="Variables">
      <li v-for="entry in shown" :key="entry.variable.name" class="entry">
        <span class="name">{{ entry.variable.name }}</span>
        <v-select
          :model-value="entry.variable.kind"
          :items="kindChoices"
          :aria-label="`Kind of ${entry.variable.name}`"
          class="kind"
          @update:model-value="setKind(entry, $event as Kind)"
        />
        <span class="mini"><Miniature :entry="entry" named /></span>
        <span class="quiet why"
          >{{ entry.reason
          }}<template v-if="entry.summary.n_missing">
            · {{ plural(entry.summary.n_missing, 'row', 'rows') }} without an answer</template
          >
          <ToLookAt
            :entry="entry"
            :looks="entry.to_look_at"
            may-change
            @step="attempt(() => steps.make($event, [entry]))"
        /></span>
      </li>
    </ul>
    <RowsTable :study="study" :dataset="dataset" short />
  </section>
</template>

<style scoped>
.preview {
  display: grid;
  gap: 14px;
}
.top {
  display: flex;
  gap: 20px;
  align-items: center;
}
.lead {
  font-size: 1.25rem;
  flex: 1;
}
.asked {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  background: var(--care-soft);
  border-radius: 6px;
  padding: 8px 12px;
}
.remarks {
  margin: 0;
  padding-left: 18px;
  color: var(--care);
}
.entries {
  list-style: none;
  margin: 0;
  padding: 0;
}
.entry {
  display: grid;
  grid-template-columns: minmax(110px, 200px) 150px minmax(120px, 260px) 1fr;
  gap: 16px;
  align-items: center;
  padding: 4px 0;
  border-bottom: 1px solid var(--hairline);
}
.name {
  font-weight: 600;
  overflow-wrap: anywhere;
}
.why {
  font-size: 0.9rem;
}
@media (max-width: 800px) {
  .entry {
    grid-template-columns: 1fr 150px;
  }
  .top {
    flex-wrap: wrap;
  }
}
</style>
