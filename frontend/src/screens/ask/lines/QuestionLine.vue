<script setup lang="ts">
/** One question of the line: its words and headline; while in view its name, note and standing. */
import { computed, nextTick, ref } from 'vue'

import type { SavedQuestion, Study } from '@/api/types'
import RichText from '@/parts/RichText.vue'
import type { Line } from './useLines'

const props = defineProps<{ study: Study; line: Line; isCurrent: boolean; mayChange: boolean }>()
const emit = defineEmits<{
  change: [changes: { title?: string; note?: string; standing?: SavedQuestion['standing'] }]
  remove: []
  step: [by: number]
  fold: []
}>()

const saved = computed(() => props.line.saved)
const edited = ref<'name' | 'note'>()
const field = ref<HTMLElement>()
const standings = { draft: 'draft', kept: 'kept', dropped: 'dropped' } as const
const mark = computed(() => ({ draft: '', kept: '●', dropped: '○' })[saved.value.standing])

async function edit(what: 'name' | 'note') {
  edited.value = what
  await nextTick()
  const input = field.value?.querySelector<HTMLInputElement>('.edited')
  input?.focus()
  if (what === 'name') input?.select()
}

function done(text: string) {
  const what = edited.value
  edited.value = undefined
  if (what === 'name' && text.trim() !== saved.value.title) emit('change', { title: text.trim() })
  if (what === 'note' && text.trim() !== saved.value.note) emit('change', { note: text.trim() })
}
</script>

<template>
  <li
    ref="field"
    class="question"
    :class="[{ on: isCurrent, sub: saved.parent }, `is-${saved.standing}`]"
  >
    <input
      v-if="edited === 'name'"
      class="edited"
      :value="saved.title"
      maxlength="200"
      aria-label="Name of the question"
      placeholder="Name of the question"
      @blur="done(($event.target as HTMLInputElement).value)"
      @keydown.enter="($event.target as HTMLElement).blur()"
      @keydown.escape="edited = undefined"
    />
    <router-link
      v-else
      :to="{ name: 'ask', params: { study: study.id, question: saved.id } }"
      class="words"
      draggable="false"
      :data-question="saved.id"
      :aria-current="isCurrent ? 'page' : undefined"
      @keydown.alt.up.prevent="emit('step', -1)"
      @keydown.alt.down.prevent="emit('step', 1)"
      @keydown.delete="mayChange && emit('remove')"
      ><span v-if="mark" class="mark" role="img" :aria-label="saved.standing">{{ mark }} </span
      >{{ line.words
      }}<small class="headline"
        >{{ saved.headline ?? 'no answer yet'
        }}<template v-if="saved.headline && !saved.is_current">
          · the data changed since</template
        ></small
      ></router-link
    >
    <button
      v-if="line.followUps"
      class="fold quiet"
      :aria-expanded="!line.isFolded"
      @click="emit('fold')"
    >
      {{ line.isFolded ? `▸ ${line.followUps} more` : '▾' }}
      <span v-if="!line.isFolded" class="visually-hidden">Fold the follow-ups away</span>
    </button>
    <textarea
      v-if="edited === 'note'"
      class="edited"
      rows="3"
      :value="saved.note"
      maxlength="5000"
      aria-label="Note"
      placeholder="A note; **so** for emphasis"
      @blur="done(($event.target as HTMLTextAreaElement).value)"
      @keydown.escape="edited = undefined"
    />
    <p v-else-if="saved.note && isCurrent" class="note"><RichText :text="saved.note" /></p>
    <span v-if="mayChange && isCurrent && !edited" class="tools">
      <button class="act" @click="edit('name')">Name</button>
      <button class="act" @click="edit('note')">Note</button>
      <select
        class="line"
        aria-label="Standing"
        :value="saved.standing"
        @change="
          emit('change', {
            standing: ($event.target as HTMLSelectElement).value as SavedQuestion['standing'],
          })
        "
      >
        <option v-for="(words, each) in standings" :key="each" :value="each">{{ words }}</option>
      </select>
      <button class="act" aria-label="Delete this question" @click="emit('remove')">Delete</button>
    </span>
  </li>
</template>

<style scoped>
.question {
  position: relative;
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
.question.is-dropped .words {
  color: var(--quiet);
}
.words {
  display: block;
  padding: 7px 20px 7px 12px;
  color: var(--ink);
  text-decoration: none;
  overflow-wrap: anywhere;
}
.mark {
  color: var(--pine);
}
.headline {
  display: block;
  color: var(--quiet);
  margin-top: 2px;
}
.fold {
  position: absolute;
  top: 6px;
  right: 4px;
  font-size: 0.8rem;
}
.note {
  padding: 0 8px 7px 12px;
  white-space: pre-line;
  overflow-wrap: anywhere;
}
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  padding: 0 8px 7px 12px;
  font-size: 0.87rem;
}
.tools select {
  background: none;
}
.edited {
  margin: 6px 8px 6px 12px;
  width: calc(100% - 20px);
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--pine);
  border-radius: 4px;
  padding: 2px 6px;
}
</style>
