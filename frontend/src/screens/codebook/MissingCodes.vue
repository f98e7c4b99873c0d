<script setup lang="ts">
/** What stands in the file but is not an answer, with its reason. */
import DraftInput from '@/parts/DraftInput.vue'
import { computed, ref } from 'vue'

import type { Entry, Step } from '@/api/types'
import { count } from '@/design/numbers'

const props = defineProps<{ entry: Entry; mayChange: boolean }>()
const emit = defineEmits<{ step: [step: Step] }>()

const added = ref('')
const codes = computed(() => props.entry.variable.missing)
const found = computed(() => props.entry.summary.missing)
const suggestions = computed(() => props.entry.variable.categories.map((each) => each.value))

function declare(value: string, label: string) {
  const variables = [props.entry.variable.name]
  emit('step', { step: 'declare_missing', variables, codes: [{ value, label }] })
}

function add() {
  const value = added.value.trim()
  added.value = ''
  if (value && !codes.value.some((code) => code.value === value)) declare(value, '')
}

function takeBack(value: string) {
  const variables = [props.entry.variable.name]
  emit('step', { step: 'count_as_answer', variables, values: [value] })
}
</script>

<template>
  <section class="missing" aria-label="Not an answer">
    <h3 class="overline">Not an answer</h3>
    <p v-if="!found.length" class="quiet none">Every row has an answer.</p>
    <ul class="codes">
      <li v-for="code in found" :key="code.value" class="code">
        <template v-if="code.value === ''"
          ><span class="quiet">blank</span><span class="n">{{ count(code.n) }}</span></template
        >
        <template v-else>
          <span class="pair"
            ><b>{{ code.value }}</b>
            <DraftInput
              :value="code.label"
              placeholder="reason"
              :disabled="!mayChange"
              :aria-label="`Reason for ${code.value}`"
              maxlength="200"
              @take="declare(code.value, $event.trim())"
          /></span>
          <span class="n">{{ count(code.n) }}</span>
          <button
            v-if="mayChange"
            class="act"
            :aria-label="`${code.value} is an answer`"
            @click="takeBack(code.value)"
          >
            is an answer
          </button>
        </template>
      </li>
    </ul>
    <form v-if="mayChange" class="add" @submit.prevent="add">
      <input
        v-model="added"
        list="values-here"
        placeholder="Another value, such as 99"
        aria-label="Value that is not an answer"
        maxlength="300"
      />
      <datalist id="values-here">
        <option v-for="value in suggestions" :key="value" :value="value" />
      </datalist>
      <button class="act" :disabled="!added.trim()">Not an answer</button>
    </form>
  </section>
</template>

<style scoped>
.missing {
  margin-top: 8px;
}
.codes {
  list-style: none;
  margin: 0;
  padding: 0;
}
.code {
  display: grid;
  grid-template-columns: 1fr 56px 92px;
  gap: 8px;
  align-items: center;
  border-bottom: 1px solid var(--hairline);
  min-height: 32px;
}
.pair {
  display: flex;
  align-items: baseline;
  gap: 10px;
  min-width: 0;
}
.pair b {
  min-width: 30px;
  overflow-wrap: anywhere;
}
.n {
  text-align: right;
}
input {
  border: 0;
  background: none;
  font: inherit;
  color: inherit;
  min-width: 0;
  flex: 1;
  padding: 3px 2px;
  border-bottom: 1px solid transparent;
}
input:focus {
  outline: none;
  border-color: var(--pine);
}
.add {
  display: flex;
  gap: 10px;
  margin-top: 8px;
}
.add input {
  border-color: var(--hairline);
}
</style>
