<script setup lang="ts">
/** Every variable of a data set, and the one being looked at beside them. */
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { useCodebook, useDatasets } from '@/api/queries'
import type { Study } from '@/api/types'
import { count, plural } from '@/design/numbers'
import { useKeptInView } from '@/inView'
import ErrorNote from '@/parts/ErrorNote.vue'
import TermsAsked from '@/parts/TermsAsked.vue'
import { titleOf } from '@/parts/kinds'
import { matching } from '@/parts/search'
import { useShortcuts } from '@/shortcuts'
import MissingInMany from './MissingInMany.vue'
import VariableLine from './VariableLine.vue'
import VariablePanel from './VariablePanel.vue'
import { needsALook } from './look'

const props = defineProps<{ study: Study }>()
const route = useRoute()
const router = useRouter()
const datasets = useDatasets(() => props.study.id)
const ready = computed(() => datasets.data.value?.filter((dataset) => !dataset.is_draft) ?? [])
const dataset = computed(
  () => ready.value.find(({ id }) => id === route.params.dataset) ?? ready.value[0],
)
const codebook = useCodebook(
  () => props.study.id,
  () => dataset.value?.id,
)
useKeptInView(
  () => props.study.id,
  () => dataset.value?.id,
)
const mayChange = computed(() => props.study.role !== 'reader')

const typed = ref('')
const onlyToLookAt = ref(false)
const field = ref<HTMLInputElement>()
const list = ref<HTMLElement>()

const all = computed(() => codebook.data.value ?? [])
const toLookAt = computed(() => all.value.filter((entry) => needsALook(entry, dataset.value!.rows)))
const shown = computed(() => {
  const from = onlyToLookAt.value ? toLookAt.value : all.value
  return matching(from, typed.value, ({ variable }) => [titleOf(variable), variable.name])
})
const current = computed(
  () => all.value.find(({ variable }) => variable.name === route.query.variable) ?? shown.value[0],
)

function choose(name: string) {
  router.replace({ query: { ...route.query, variable: name } })
}

async function step(by: number) {
  const at = shown.value.findIndex((entry) => entry === current.value)
  const next = shown.value[Math.min(Math.max(at + by, 0), shown.value.length - 1)]
  if (!next) return
  choose(next.variable.name)
  await nextTick()
  list.value?.querySelector<HTMLElement>('[aria-current="true"]')?.focus()
}

watch(
  () => [route.query.variable, codebook.data.value] as const,
  async () => {
    await nextTick()
    list.value?.querySelector('[aria-current="true"]')?.scrollIntoView({ block: 'nearest' })
  },
)

useShortcuts('Codebook', [
  { key: '/', words: 'Find a variable', run: () => field.value?.focus() },
  { key: 'j', words: 'Next variable', run: () => step(1) },
  { key: 'k', words: 'Variable before', run: () => step(-1) },
])
</script>

<template>
  <main class="codebook">
    <TermsAsked
      v-if="dataset?.terms_asked.length"
      :study="study"
      :dataset="dataset"
      class="terms"
    />
    <ErrorNote v-else-if="codebook.isError.value" :error="codebook.error.value" />
    <p v-else-if="datasets.data.value && !dataset" class="serif empty">
      The codebook fills itself when data arrive.
      <router-link :to="{ name: 'data' }">Bring a file</router-link>
    </p>
    <template v-else-if="codebook.data.value && dataset">
      <section class="variables" aria-label="Variables">
        <div class="bar">
          <label class="find">
            <span class="visually-hidden">Find a variable</span>
            <input ref="field" v-model="typed" placeholder="Find a variable" /><kbd>/</kbd>
          </label>
          <button
            v-if="toLookAt.length"
            class="act"
            :aria-pressed="onlyToLookAt"
            @click="onlyToLookAt = !onlyToLookAt"
          >
            {{ onlyToLookAt ? 'Show all' : `Only those to look at (${toLookAt.length})` }}
          </button>
          <MissingInMany v-if="mayChange" :study="study" :dataset="dataset" :codebook="all" />
          <select
            v-if="ready.length > 1"
            class="which"
            aria-label="Data set"
            :value="dataset.id"
            @change="
              router.push({
                name: 'codebook',
                params: { dataset: ($event.target as HTMLSelectElement).value },
              })
            "
          >
            <option v-for="each in ready" :key="each.id" :value="each.id">{{ each.name }}</option>
          </select>
          <span class="quiet total"
            >{{ plural(all.length, 'variable', 'variables') }} · {{ count(dataset.rows) }}
            {{ dataset.noun_many }}</span
          >
        </div>
        <ul ref="list" class="list">
          <li v-for="entry in shown" :key="entry.variable.name">
            <VariableLine
              :entry="entry"
              :rows="dataset.rows"
              :aria-current="entry === current"
              @click="choose(entry.variable.name)"
              @keydown.down.prevent="step(1)"
              @keydown.up.prevent="step(-1)"
            />
          </li>
        </ul>
        <p v-if="!shown.length" class="quiet nothing">No variable matches “{{ typed }}”.</p>
      </section>
      <VariablePanel
        v-if="current"
        :key="`${dataset.id}-${current.variable.name}`"
        :data-editing="current.variable.label || current.variable.name"
        :study="study"
        :dataset="dataset"
        :entry="current"
        :codebook="all"
        :may-change="mayChange"
        @made="choose"
      />
    </template>
  </main>
</template>

<style scoped>
.terms {
  padding: 24px;
}
.codebook {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 400px;
  height: calc(100vh - 52px);
}
.empty {
  padding: 40px;
  font-size: 1.25rem;
}
.variables {
  padding: 16px 24px 0;
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.bar {
  display: flex;
  align-items: center;
  gap: 16px;
  padding-bottom: 10px;
}
.find {
  border: 1px solid var(--hairline);
  border-radius: 16px;
  padding: 4px 12px;
  background: var(--sheet);
  display: flex;
  width: 260px;
  align-items: center;
}
.find:focus-within {
  border-color: var(--pine);
}
.find input {
  border: 0;
  outline: 0;
  font: inherit;
  color: inherit;
  background: none;
  flex: 1;
  min-width: 0;
}
.which {
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--hairline);
  border-radius: 6px;
  padding: 3px 8px;
  max-width: 180px;
}
.total {
  margin-left: auto;
}
.list {
  list-style: none;
  margin: 0 -12px;
  padding: 0 0 24px;
  overflow-y: auto;
}
.nothing {
  padding: 24px 0;
}
@media (max-width: 820px) {
  .codebook {
    grid-template-columns: 1fr;
    height: auto;
  }
  .bar {
    flex-wrap: wrap;
  }
}
</style>
