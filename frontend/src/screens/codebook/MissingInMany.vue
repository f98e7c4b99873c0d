<script setup lang="ts">
/** Declare a code to be no answer in every variable it stands in, with one step. */
import { ref } from 'vue'

import { client, unwrap } from '@/api/client'
import type { DataSet, Entry, Study } from '@/api/types'
import { useMakeStep } from '@/api/useSteps'
import { count } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'
import { titleOf } from '@/parts/kinds'

const props = defineProps<{ study: Study; dataset: DataSet; codebook: Entry[] }>()

const steps = useMakeStep(
  () => props.study.id,
  () => props.dataset.id,
)
const isOpen = ref(false)
const code = ref('')
const reason = ref('')
const found = ref<{ variable: string; n: number; is_missing: boolean }[]>()
const chosen = ref<string[]>([])
const error = ref<Error>()

async function look() {
  error.value = undefined
  found.value = undefined
  const value = code.value.trim()
  if (!value) return
  try {
    found.value = await unwrap(
      client.GET('/api/studies/{study_id}/datasets/{dataset_id}/values', {
        params: {
          path: { study_id: props.study.id, dataset_id: props.dataset.id },
          query: { value },
        },
      }),
    )
    chosen.value = found.value.filter((each) => !each.is_missing).map((each) => each.variable)
  } catch (problem) {
    error.value = problem as Error
  }
}

async function declare() {
  try {
    await steps.make(
      {
        step: 'declare_missing',
        variables: chosen.value,
        codes: [{ value: code.value.trim(), label: reason.value.trim() }],
      },
      props.codebook.filter(({ variable }) => chosen.value.includes(variable.name)),
    )
    isOpen.value = false
    code.value = reason.value = ''
    found.value = undefined
  } catch (problem) {
    error.value = problem as Error
  }
}

function title(name: string): string {
  const entry = props.codebook.find(({ variable }) => variable.name === name)
  return entry ? titleOf(entry.variable) : name
}
</script>

<template>
  <v-menu v-model="isOpen" :close-on-content-click="false" location="bottom start" :offset="6">
    <template #activator="{ props: opener }">
      <button v-bind="opener" class="act">Not an answer…</button>
    </template>
    <section class="popover many" role="dialog" aria-label="Not an answer, in many variables">
      <form class="ask" @submit.prevent="look">
        <input v-model="code" placeholder="Value, such as 99" aria-label="Value" maxlength="300" />
        <button class="act" :disabled="!code.trim()">Where is it?</button>
      </form>
      <ErrorNote :error="error" />
      <p v-if="found && !found.length" class="quiet">No variable holds “{{ code }}”.</p>
      <form v-else-if="found" @submit.prevent="declare">
        <div class="list">
          <label v-for="each in found" :key="each.variable">
            <input
              v-model="chosen"
              type="checkbox"
              :value="each.variable"
              :disabled="each.is_missing"
            />
            <span>{{ title(each.variable) }}</span>
            <span class="quiet">{{ each.is_missing ? 'already' : count(each.n) }}</span>
          </label>
        </div>
        <input
          v-model="reason"
          class="reason"
          placeholder="Reason, such as refused"
          aria-label="Reason"
          maxlength="200"
        />
        <button class="act" :disabled="!chosen.length">
          Not an answer in {{ chosen.length }} {{ chosen.length === 1 ? 'variable' : 'variables' }}
        </button>
      </form>
    </section>
  </v-menu>
</template>

<style scoped>
.many {
  width: 360px;
  max-width: 92vw;
  padding: 12px 16px;
  display: grid;
  gap: 10px;
}
.ask {
  display: flex;
  gap: 12px;
}
.list {
  max-height: 260px;
  overflow-y: auto;
}
.list label {
  display: grid;
  grid-template-columns: 20px 1fr auto;
  gap: 8px;
  padding: 2px 0;
}
input:not([type='checkbox']) {
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 1px solid var(--hairline);
  padding: 3px 2px;
  flex: 1;
}
.reason {
  width: 100%;
  margin: 8px 0;
}
input[type='checkbox'] {
  accent-color: var(--pine);
}
</style>
