<script setup lang="ts">
/** Expected shares: equal, typed beside the categories (the rest filled in), or another variable's. */
import { computed, ref, watch } from 'vue'

import type { Options } from '@/api/types'
import { isCategorical, titleOf } from '@/parts/kinds'
import { parseRatios } from '@/parts/typed'
import { useAsking, useOptions } from '../useAsking'
import { filledIn } from './shares'
import { useOutcome } from './useOutcome'

type Expected = Options['distribution']['expected']

const { codebook } = useAsking()
const outcome = useOutcome()
const { options, set } = useOptions('distribution')
const expected = computed(() => options.value.expected)
const typed = ref<Record<string, string>>({})
const ratios = ref('')
watch(
  [expected, () => outcome.value.variable],
  ([now]) => {
    const shares = now?.kind === 'stated' ? now.shares : {}
    typed.value = Object.fromEntries(Object.entries(shares).map(([k, v]) => [k, String(v)]))
  },
  { immediate: true },
)

const others = computed(() =>
  codebook.value
    .filter((e) => isCategorical(e.variable) && e.variable.name !== outcome.value.variable)
    .map((e) => ({ value: e.variable.name, title: titleOf(e.variable) })),
)
const values = computed(() => outcome.value.table.map((row) => row.value))
const filled = computed(() => filledIn(values.value, typed.value))

const put = (next: Expected) => set({ expected: next })

function compare() {
  put({ kind: 'stated', shares: filled.value.shares })
}

function useRatios() {
  const found = parseRatios(ratios.value)
  typed.value = Object.fromEntries(values.value.map((value, i) => [value, found[i] ?? '']))
}
</script>

<template>
  <div class="editor">
    <div class="choices">
      <button
        class="act"
        :aria-pressed="expected?.kind === 'equal'"
        @click="put({ kind: 'equal' })"
      >
        Equal shares
      </button>
      <v-select
        :model-value="expected?.kind === 'variable' ? expected.variable : null"
        :items="others"
        label="As another variable is answered"
        class="wide"
        @update:model-value="$event && put({ kind: 'variable', variable: $event })"
      />
      <v-text-field
        v-model="ratios"
        label="Ratios in order, such as 2 : 1 : 1"
        class="wide"
        @change="useRatios"
      />
      <button v-if="expected" class="act" @click="put(null)">No comparison</button>
    </div>
    <form class="stated" @submit.prevent="compare">
      <label v-for="row in outcome.table" :key="row.value">
        <span>{{ row.label }}</span>
        <input
          v-model="typed[row.value]"
          class="line"
          inputmode="decimal"
          :placeholder="filled.rest"
          :aria-label="`Expected share of ${row.label}`"
        />
      </label>
      <p class="quiet">{{ filled.words }}</p>
      <p><button class="act" type="submit">Compare with these shares</button></p>
    </form>
  </div>
</template>

<style scoped>
.choices {
  align-items: center;
  margin-bottom: 10px;
}
.stated {
  display: grid;
  gap: 4px;
  max-width: 420px;
}
.stated label {
  display: grid;
  grid-template-columns: 1fr 110px;
  gap: 12px;
  align-items: center;
}
</style>
