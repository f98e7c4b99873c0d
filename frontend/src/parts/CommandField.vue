<script setup lang="ts">
/** Ctrl/⌘-K: go to a screen, a variable or a question by typing. */
import { computed, nextTick, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRoute, useRouter, type RouteLocationRaw } from 'vue-router'

import { useCodebook, useDatasets, useQuestions, useStudies } from '@/api/queries'
import { useInView } from '@/inView'
import { questionInWords } from '@/screens/ask/words'
import { SCREENS } from '@/screens/names'
import { useCommandField } from './commandField'
import { focusWhenShown } from './focus'
import { titleOf } from './kinds'
import { matching } from './search'

interface Command {
  text: string
  group: string
  to: RouteLocationRaw
}

const field = useCommandField()
const route = useRoute()
const router = useRouter()
const inView = useInView()
const typed = ref('')
const active = ref(0)
const input = ref<HTMLInputElement>()

const study = computed(() => route.params.study as string | undefined)
const studies = useStudies()
const datasets = useDatasets(study)
const dataset = computed(
  () => inView.byStudy[study.value ?? ''] ?? datasets.data.value?.find((d) => !d.is_draft)?.id,
)
const codebook = useCodebook(study, dataset)
const questions = useQuestions(study)

const commands = computed<Command[]>(() => {
  const here = study.value
  const found: Command[] = []
  if (here) {
    for (const [name, text] of Object.entries({ ...SCREENS, people: 'People' }))
      found.push({ text, group: 'Screen', to: inView.placeOf(name, here) })
    for (const saved of questions.data.value ?? [])
      found.push({
        text: questionInWords(saved, codebook.data.value),
        group: 'Question',
        to: { name: 'ask', params: { study: here, question: saved.id } },
      })
    for (const { variable } of codebook.data.value ?? [])
      found.push({
        text: titleOf(variable),
        group: 'Variable',
        to: {
          name: 'codebook',
          params: { study: here, dataset: dataset.value },
          query: { variable: variable.name },
        },
      })
  }
  for (const other of studies.data.value ?? [])
    found.push({
      text: other.name,
      group: 'Study',
      to: { name: 'ask', params: { study: other.id } },
    })
  found.push({ text: 'All studies', group: 'Screen', to: { name: 'studies' } })
  return found
})
const shown = computed(() => matching(commands.value, typed.value, (c) => [c.text]).slice(0, 60))

watch(typed, () => (active.value = 0))
watch(
  () => field.isOpen,
  async (open) => {
    if (!open) return
    typed.value = ''
    active.value = 0
    await nextTick()
    focusWhenShown(input.value)
  },
)

async function move(step: number) {
  active.value = Math.min(Math.max(active.value + step, 0), shown.value.length - 1)
  await nextTick()
  document.getElementById(`command-${active.value}`)?.scrollIntoView({ block: 'nearest' })
}

function go(command: Command | undefined) {
  if (!command) return
  field.isOpen = false
  router.push(command.to)
}

function hear(event: KeyboardEvent) {
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
    event.preventDefault()
    field.isOpen = !field.isOpen
  }
}
onMounted(() => window.addEventListener('keydown', hear))
onUnmounted(() => window.removeEventListener('keydown', hear))
</script>

<template>
  <v-dialog v-model="field.isOpen" max-width="560" class="command-dialog">
    <section class="popover command" aria-label="Find or do">
      <input
        ref="input"
        v-model="typed"
        class="field"
        role="combobox"
        aria-expanded="true"
        aria-controls="command-list"
        :aria-activedescendant="shown.length ? `command-${active}` : undefined"
        aria-label="Find a variable, question or screen"
        placeholder="Find a variable, question or screen"
        autocomplete="off"
        @keydown.down.prevent="move(1)"
        @keydown.up.prevent="move(-1)"
        @keydown.enter.prevent="go(shown[active])"
      />
      <ul id="command-list" role="listbox" aria-label="Found" class="found">
        <li
          v-for="(command, i) in shown"
          :id="`command-${i}`"
          :key="`${command.group}-${i}-${command.text}`"
          role="option"
          :aria-selected="i === active"
          class="command-line"
          :class="{ active: i === active }"
          @mousemove="active = i"
          @click="go(command)"
        >
          <span class="text">{{ command.text }}</span><small class="quiet">{{
            command.group
          }}</small>
        </li>
      </ul>
      <p v-if="!shown.length" class="quiet nothing">Nothing here is called “{{ typed }}”.</p>
    </section>
  </v-dialog>
</template>

<style scoped>
.command {
  overflow: hidden;
}
.field {
  width: 100%;
  border: 0;
  border-bottom: 1px solid var(--hairline);
  padding: 14px 18px;
  font: inherit;
  font-size: 1.07rem;
  background: transparent;
  color: var(--ink);
  outline: none;
}
.found {
  list-style: none;
  margin: 0;
  padding: 6px;
  max-height: 380px;
  overflow-y: auto;
}
.command-line {
  display: flex;
  justify-content: space-between;
  gap: 16px;
  padding: 6px 12px;
  border-radius: 5px;
  cursor: pointer;
}
.command-line.active {
  background: var(--pine-soft);
}
.text {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.nothing {
  padding: 14px 18px;
}
</style>
