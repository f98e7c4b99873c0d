<script setup lang="ts">
/** Lines of questions: the memory of the analysis. */
import { computed, nextTick, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { keys, useRefresh } from '@/api/queries'
import type { DataSet, Entry, SavedQuestion, Study } from '@/api/types'
import { useNotices } from '@/notices'
import { questionInWords } from '../words'

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
const naming = ref<string>()
const list = ref<HTMLElement>()
const shown = computed(() => props.questions ?? [])

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

function rename(saved: SavedQuestion, title: string) {
  naming.value = undefined
  if (title.trim() === saved.title) return
  return attempt(() =>
    unwrap(
      client.PATCH('/api/studies/{study_id}/questions/{question_id}', {
        ...path(saved),
        body: { version: saved.version, title: title.trim() },
      }),
    ),
  )
}

async function startNaming(saved: SavedQuestion) {
  naming.value = saved.id
  await nextTick()
  list.value?.querySelector<HTMLInputElement>('.naming')?.select()
}
</script>

<template>
  <nav class="trail" aria-label="Line of questions">
    <h2 class="overline">Line of questions</h2>
    <ul ref="list" class="list">
      <li
        v-for="saved in shown"
        :key="saved.id"
        class="question"
        :class="{ on: saved.id === current, sub: saved.parent }"
        :draggable="mayChange && naming !== saved.id"
        @dragstart="dragged = saved.id"
        @dragend="dragged = undefined"
        @dragover.prevent
        @drop.prevent="dragged && place(dragged, saved.id)"
      >
        <input
          v-if="naming === saved.id"
          class="naming"
          :value="saved.title"
          maxlength="200"
          aria-label="Name of the question"
          placeholder="Name of the question"
          @blur="rename(saved, ($event.target as HTMLInputElement).value)"
          @keydown.enter="($event.target as HTMLElement).blur()"
          @keydown.escape="naming = undefined"
        />
        <router-link
          v-else
          :to="{ name: 'ask', params: { study: study.id, question: saved.id } }"
          class="words"
          draggable="false"
          :data-question="saved.id"
          :aria-current="saved.id === current ? 'page' : undefined"
          @keydown.alt.up.prevent="step(saved, -1)"
          @keydown.alt.down.prevent="step(saved, 1)"
          @keydown.delete="mayChange && remove(saved)"
          >{{ questionInWords(saved, codebook)
          }}<small class="headline"
            >{{ saved.headline ?? 'no answer yet'
            }}<template v-if="saved.headline && !saved.is_current">
              · the data changed since</template
            ></small
          ></router-link
        >
        <span v-if="mayChange && saved.id === current && naming !== saved.id" class="tools">
          <button class="act" @click="startNaming(saved)">Name</button>
          <button class="act" :aria-label="`Delete this question`" @click="remove(saved)">
            Delete
          </button>
        </span>
      </li>
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
.question {
  border-left: 2px solid var(--hairline);
  font-size: 0.93rem;
  line-height: 1.3;
}
.question.sub {
  margin-left: 12px;
}
.question.on {
  border-color: var(--pine);
  background: var(--pine-soft);
  border-radius: 0 6px 6px 0;
}
.words {
  display: block;
  padding: 7px 8px 7px 12px;
  color: var(--ink);
  text-decoration: none;
  overflow-wrap: anywhere;
}
.headline {
  display: block;
  color: var(--quiet);
  margin-top: 2px;
}
.tools {
  display: flex;
  gap: 14px;
  padding: 0 8px 7px 12px;
  font-size: 0.87rem;
}
.naming {
  margin: 6px 8px 6px 12px;
  width: calc(100% - 20px);
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--pine);
  border-radius: 4px;
  padding: 2px 6px;
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
