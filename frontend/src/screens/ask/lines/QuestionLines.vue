<script setup lang="ts">
/** Lines of questions: the memory of the analysis. */
import { computed, nextTick, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { keys, useRefresh } from '@/api/queries'
import type { DataSet, Entry, SavedQuestion, Study } from '@/api/types'
import { useNotices } from '@/notices'
import { questionInWords } from '../words'
import QuestionLine from './QuestionLine.vue'
import { useLines } from './useLines'

const props = defineProps<{
  study: Study
  questions: SavedQuestion[] | undefined
  current: string | undefined
  codebook: Entry[] | undefined
  mayChange: boolean
  isReady: boolean
  datasets: DataSet[]
  drafts: DataSet[]
}>()
defineEmits<{ new: [dataset?: string]; 'see-all': [] }>()

const refresh = useRefresh()
const notices = useNotices()
const dragged = ref<string>()
const list = ref<HTMLElement>()
const shown = computed(() => props.questions ?? [])
const { typed, which, lines, fold, dropped, kept, isLong } = useLines(
  () => shown.value,
  () => props.codebook,
  () => props.current,
)

const again = () => refresh(...keys.questions(props.study.id))
const path = (saved: { id: string }) => ({
  params: { path: { study_id: props.study.id, question_id: saved.id } },
})

async function attempt(work: () => Promise<unknown>) {
  try {
    await work()
    await again()
  } catch (error) {
    notices.complain(error)
    await again()
  }
}

function remove(saved: SavedQuestion) {
  return attempt(async () => {
    await unwrap(client.DELETE('/api/studies/{study_id}/questions/{question_id}', path(saved)))
    notices.say(`“${questionInWords(saved, props.codebook)}” was deleted.`, async () => {
      const restore = '/api/studies/{study_id}/questions/{question_id}/restore'
      await unwrap(client.POST(restore, path(saved)))
      await again()
    })
  })
}

function place(id: string, before: string | null) {
  if (id === before) return
  return attempt(() =>
    unwrap(
      client.POST('/api/studies/{study_id}/questions/{question_id}/move', {
        ...path({ id }),
        body: { before },
      }),
    ),
  )
}

async function step(saved: SavedQuestion, by: number) {
  const at = shown.value.findIndex(({ id }) => id === saved.id)
  const target = by < 0 ? shown.value[at - 1] : (shown.value[at + 2] ?? null)
  if (target === undefined || (by > 0 && at === shown.value.length - 1)) return
  await place(saved.id, target?.id ?? null)
  await nextTick()
  list.value?.querySelector<HTMLElement>(`[data-question="${saved.id}"]`)?.focus()
}

function changed(saved: SavedQuestion, changes: object) {
  return attempt(() =>
    unwrap(
      client.PATCH('/api/studies/{study_id}/questions/{question_id}', {
        ...path(saved),
        body: { version: saved.version, ...changes },
      }),
    ),
  )
}
</script>

<template>
  <nav class="trail" aria-label="Line of questions">
    <h2 class="overline">Line of questions</h2>
    <div v-if="isLong || dropped.length || kept.length" class="filter">
      <input
        v-if="isLong"
        v-model="typed"
        class="line"
        placeholder="Find a question"
        aria-label="Find a question"
      />
      <p v-if="kept.length || dropped.length" class="which">
        <button class="act" :aria-pressed="which === 'all'" @click="which = 'all'">all</button>
        <button
          v-if="kept.length"
          class="act"
          :aria-pressed="which === 'kept'"
          @click="which = 'kept'"
        >
          {{ kept.length }} kept
        </button>
        <button
          v-if="dropped.length"
          class="act"
          :aria-pressed="which === 'dropped'"
          @click="which = 'dropped'"
        >
          {{ dropped.length }} dropped
        </button>
      </p>
    </div>
    <ul ref="list" class="list">
      <QuestionLine
        v-for="line in lines"
        :key="line.saved.id"
        :study="study"
        :line="line"
        :is-current="line.saved.id === current"
        :may-change="mayChange"
        :draggable="mayChange"
        @change="changed(line.saved, $event)"
        @remove="remove(line.saved)"
        @step="step(line.saved, $event)"
        @fold="fold(line.saved.id)"
        @dragstart="dragged = line.saved.id"
        @dragend="dragged = undefined"
        @dragover.prevent
        @drop.prevent="dragged && place(dragged, line.saved.id)"
      />
      <li v-if="typed && !lines.length" class="quiet">No question holds “{{ typed }}”.</li>
    </ul>
    <template v-if="mayChange">
      <button class="act new" :disabled="!isReady" @click="$emit('new')">+ New question</button>
      <template v-if="datasets.length > 1">
        <button
          v-for="dataset in datasets"
          :key="dataset.id"
          class="act about"
          :disabled="!isReady"
          @click="$emit('new', dataset.id)"
        >
          about {{ dataset.name }}
        </button>
      </template>
    </template>
    <button class="act new" @click="$emit('see-all')">All variables at a glance</button>
    <p v-for="draft in drafts" :key="draft.id" class="quiet draft">
      {{ draft.name }} waits to be looked at:
      <router-link :to="{ name: 'data', params: { study: study.id } }">preview</router-link>
    </p>
  </nav>
</template>

<style scoped>
.trail {
  padding: 16px 14px 24px 20px;
  border-right: 1px solid var(--hairline);
}
.list {
  list-style: none;
  margin: 0;
  padding: 0;
}
.filter {
  display: grid;
  gap: 4px;
  margin-bottom: 10px;
}
.filter input {
  text-align: left;
  padding: 3px 2px;
}
.which {
  display: flex;
  gap: 14px;
  font-size: 0.87rem;
}
.about {
  display: block;
  margin: 4px 0 0 24px;
  font-weight: 400;
}
.new {
  margin: 14px 0 0 12px;
}
.draft {
  margin: 14px 0 0 12px;
  font-size: 0.87rem;
}
@media (max-width: 760px) {
  .trail {
    border-right: 0;
    border-top: 1px solid var(--hairline);
  }
}
</style>
