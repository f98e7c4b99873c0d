<script setup lang="ts">
/** One variable: its label and kind, its categories in order, what is not an answer. */
import { computed, ref, watch } from 'vue'

import { client, Problem, unwrap } from '@/api/client'
import { keys, useRefresh } from '@/api/queries'
import type { DataSet, Entry, EntryChange, Kind, Study } from '@/api/types'
import { short } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'
import { kinds, titleOf } from '@/parts/kinds'
import Miniature from '@/parts/Miniature.vue'
import { useNotices } from '@/notices'
import CategoryList from './CategoryList.vue'
import MissingCodes from './MissingCodes.vue'
import { reasonsToLook } from './look'

const props = defineProps<{ study: Study; dataset: DataSet; entry: Entry; mayChange: boolean }>()
const refresh = useRefresh()
const notices = useNotices()

const error = ref<Error>()
const label = ref(props.entry.variable.label)
watch(
  () => props.entry.variable.label,
  (now) => (label.value = now),
)
const variable = computed(() => props.entry.variable)
const isCategorical = computed(() => ['nominal', 'ordinal'].includes(variable.value.kind))
const reasons = computed(() => reasonsToLook(props.entry, props.dataset.rows))

type Changes = Omit<EntryChange, 'version'>

async function send(changes: Changes, version: number): Promise<Entry> {
  return unwrap(
    client.PATCH('/api/studies/{study_id}/datasets/{dataset_id}/codebook/{name}', {
      params: {
        path: {
          study_id: props.study.id,
          dataset_id: props.dataset.id,
          name: variable.value.name,
        },
      },
      body: { version, ...changes },
    }),
  )
}

/** Make a change and say so, with the way back. */
async function change(changes: Changes, words: string) {
  error.value = undefined
  const before = props.entry.variable
  const { label, kind, categories, missing, event, reference } = before
  const again = () => refresh(...keys.study(props.study.id))
  try {
    const made = await send(changes, props.entry.version)
    await again()
    notices.say(`${titleOf(made.variable)}: ${words}`, async () => {
      await send({ label, kind, categories, missing, event, reference }, made.version)
      await again()
    })
  } catch (reason) {
    error.value = reason as Error
    label_back()
    if (reason instanceof Problem && reason.status === 409) await again()
  }
}

function label_back() {
  label.value = props.entry.variable.label
}

function rename() {
  if (label.value.trim() !== variable.value.label)
    change({ label: label.value.trim() }, 'label changed.')
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
      @keydown.escape="label_back"
    />
    <p class="quiet from">
      {{ variable.name }} · from {{ dataset.file_name }} · {{ entry.reason }}
    </p>
    <div class="kinds" role="radiogroup" aria-label="Kind">
      <button
        v-for="({ mark, words }, kind) in kinds"
        :key="kind"
        class="kind"
        role="radio"
        :aria-checked="variable.kind === kind"
        :disabled="!mayChange"
        @click="variable.kind === kind || change({ kind: kind as Kind }, `read as ${words} now.`)"
      >
        {{ mark }} {{ words }}
      </button>
    </div>
    <ErrorNote :error="error" />
    <p v-for="reason in reasons" :key="reason" class="look">{{ reason }}</p>
    <CategoryList v-if="isCategorical" :entry="entry" :may-change="mayChange" @change="change" />
    <template v-else>
      <div class="picture"><Miniature :entry="entry" /></div>
      <p v-if="entry.summary.kind === 'numbers' && entry.summary.low != null" class="quiet">
        {{ short(entry.summary.low) }} to {{ short(entry.summary.high!) }} {{ variable.unit }}, mean
        {{ short(entry.summary.mean!) }}
      </p>
    </template>
    <MissingCodes :entry="entry" :may-change="mayChange" @change="change" />
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
}
.label:focus {
  outline: none;
  border-bottom: 2px solid var(--pine);
}
.from {
  margin-top: -6px;
  overflow-wrap: anywhere;
}
.kinds {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
}
.kind {
  padding: 3px 0;
  border-bottom: 2px solid transparent;
  color: var(--quiet);
}
.kind[aria-checked='true'] {
  color: var(--ink);
  font-weight: 600;
  border-color: var(--pine);
}
.look {
  color: var(--care);
  background: var(--care-soft);
  border-radius: 6px;
  padding: 6px 10px;
  font-size: 0.93rem;
}
.picture :deep(.miniature) {
  height: 90px;
}
</style>
