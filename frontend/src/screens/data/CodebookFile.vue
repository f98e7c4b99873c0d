<script setup lang="ts">
/** A codebook file that was chosen: how it is taken and what it would describe, before it is used. */
import { computed, ref, watch } from 'vue'

import { client, unwrap } from '@/api/client'
import type { CodebookSeen, DataSet, DictionaryPart, Study } from '@/api/types'
import { plural } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'

const props = defineProps<{ study: Study; dataset: DataSet; file: File }>()
const emit = defineEmits<{ used: []; away: [] }>()

const parts: { value: DictionaryPart | null; title: string }[] = [
  { value: null, title: 'not used' },
  { value: 'variable', title: 'the variable' },
  { value: 'label', title: 'its label' },
  { value: 'kind', title: 'its kind' },
  { value: 'unit', title: 'its unit' },
  { value: 'code', title: 'a code' },
  { value: 'meaning', title: 'what the code means' },
  { value: 'codes', title: 'codes with meanings' },
  { value: 'missing', title: 'what is missing' },
]

const seen = ref<CodebookSeen>()
const error = ref<Error>()
const isBusy = ref(false)
const severalSheets = computed(
  () => new Set(seen.value?.columns.map((column) => column.sheet)).size > 1,
)

/** The first names, and how many more there are. */
function few(names: string[]): string {
  const rest = names.length - 6
  return names.slice(0, 6).join(', ') + (rest > 0 ? ` and ${rest} more` : '')
}

function form(): FormData {
  const body = new FormData()
  body.append('file', props.file)
  if (seen.value?.columns.length) body.append('columns', JSON.stringify(seen.value.columns))
  return body
}

const request = () => ({
  params: { path: { study_id: props.study.id, dataset_id: props.dataset.id } },
  body: form() as never,
  bodySerializer: (body: unknown) => body as FormData,
})

async function attempt(work: () => Promise<void>) {
  isBusy.value = true
  error.value = undefined
  try {
    await work()
  } catch (reason) {
    error.value = reason as Error
  } finally {
    isBusy.value = false
  }
}

const address = '/api/studies/{study_id}/datasets/{dataset_id}/codebook-file' as const

const look = () =>
  attempt(async () => {
    seen.value = await unwrap(client.POST(`${address}/look`, request()))
  })

function take(index: number, part: DictionaryPart | null) {
  seen.value!.columns[index]!.part = part
  return look()
}

const use = () =>
  attempt(async () => {
    await unwrap(client.POST(address, request()))
    emit('used')
  })

watch(
  () => props.file,
  () => {
    seen.value = undefined
    void look()
  },
  { immediate: true },
)
</script>

<template>
  <section class="file" aria-label="Codebook file" aria-live="polite">
    <template v-if="seen">
      <p class="serif">
        “{{ file.name }}” describes {{ seen.described }} of
        {{ plural(seen.described + seen.undescribed.length, 'variable', 'variables') }}.
      </p>
      <p v-if="seen.undescribed.length" class="quiet">
        Not in it: {{ few(seen.undescribed) }}. These stay as they were understood.
      </p>
      <p v-if="seen.unknown.length" class="quiet">
        Not in the data: {{ few(seen.unknown) }}. Their lines are passed over.
      </p>
      <ul v-if="seen.columns.length" class="columns" aria-label="Its columns">
        <li v-for="(column, index) in seen.columns" :key="`${column.sheet}/${column.name}`">
          <span class="name"
            >{{ column.name }}<span v-if="severalSheets" class="quiet"> ({{ column.sheet }})</span>
          </span>
          <span class="quiet example">{{ column.example && `such as “${column.example}”` }}</span>
          <v-select
            :model-value="column.part"
            :items="parts"
            :aria-label="`What ${column.name} holds`"
            class="part"
            @update:model-value="take(index, $event)"
          />
        </li>
      </ul>
      <p v-if="seen.problem" class="problem" role="alert">{{ seen.problem }}</p>
    </template>
    <p v-else-if="isBusy" class="quiet">Reading {{ file.name }}…</p>
    <ErrorNote :error="error" />
    <p class="acts">
      <v-btn
        v-if="seen"
        color="primary"
        :disabled="!!seen.problem || !seen.described"
        :loading="isBusy"
        @click="use"
        >Describe the data by it</v-btn
      >
      <button class="act" @click="emit('away')">Put it away</button>
    </p>
  </section>
</template>

<style scoped>
.file {
  display: grid;
  gap: 6px;
  border-left: 3px solid var(--pine);
  padding: 6px 0 6px 16px;
  max-width: 820px;
}
.columns {
  list-style: none;
  padding: 0;
  margin: 4px 0;
}
.columns li {
  display: grid;
  grid-template-columns: minmax(120px, 1fr) minmax(120px, 2fr) 210px;
  gap: 12px;
  align-items: center;
  padding: 2px 0;
}
.name {
  font-weight: 600;
  overflow-wrap: anywhere;
}
.example {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.problem {
  color: var(--fail);
}
.acts {
  display: flex;
  gap: 20px;
  align-items: center;
  margin-top: 4px;
}
</style>
