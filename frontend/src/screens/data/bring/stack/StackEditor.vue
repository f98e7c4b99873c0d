<script setup lang="ts">
/** Common variables of several data sets: which they are, how answers agree, how shares compare. */
import { computed, ref, watch } from 'vue'

import type { CommonVariable, Stack } from '@/api/types'
import ErrorNote from '@/parts/ErrorNote.vue'
import type { EditorProps } from '../recipes'
import CommonHead from './CommonHead.vue'
import CommonList from './CommonList.vue'
import HarmonyTable from './HarmonyTable.vue'
import StackMargin from './StackMargin.vue'
import { freeCommonName, useProposals, withCommon } from './useHarmony'

const props = defineProps<EditorProps<Stack>>()
const emit = defineEmits<{ change: [recipe: Stack] }>()

const at = ref(0)
const error = ref<Error>()
const ids = computed(() => props.sources.map(({ id }) => id))
const proposals = useProposals(
  () => props.study.id,
  () => ids.value,
)
const common = computed<CommonVariable | undefined>(() => props.recipe.variables[at.value])
const look = computed(() => props.look?.common.find((each) => each.name === common.value?.name))
watch(
  () => props.recipe.variables.length,
  (n) => (at.value = Math.min(at.value, Math.max(0, n - 1))),
)

function put(changed: CommonVariable | undefined) {
  emit('change', withCommon(props.recipe, at.value, changed))
}

async function add(variables: (string | null)[]) {
  const wanted = variables.find((name) => name !== null)!
  await tried(async () => {
    const made = await proposals.propose(freeCommonName(props.recipe, wanted), variables)
    emit('change', { ...props.recipe, variables: [...props.recipe.variables, made] })
    at.value = props.recipe.variables.length
  })
}

async function take(source: number, name: string | null) {
  const now = common.value!
  if (name === null)
    put({ ...now, taken: now.taken.map((each, i) => (i === source ? null : each)) })
  else await tried(async () => put(await proposals.take(now, source, name)))
}

async function tried(work: () => Promise<void>) {
  error.value = undefined
  try {
    await work()
  } catch (reason) {
    error.value = reason as Error
  }
}
</script>

<template>
  <div class="stack">
    <CommonList
      :study="study"
      :recipe="recipe"
      :sources="sources"
      :codebooks="codebooks"
      :looks="props.look?.common ?? []"
      :at="at"
      :may-change="mayChange"
      @choose="at = $event"
      @add="add"
    />
    <section class="middle" aria-label="One common variable">
      <ErrorNote :error="error ?? problem ?? undefined" />
      <template v-if="common">
        <CommonHead
          :key="common.name"
          :common="common"
          :may-change="mayChange"
          @change="put"
          @remove="put(undefined)"
        />
        <HarmonyTable
          :common="common"
          :look="look"
          :sources="sources"
          :codebooks="codebooks"
          :may-change="mayChange"
          @change="put"
          @take="take"
        />
      </template>
      <p v-else class="serif empty">
        Nothing is common yet. Look at what may be the same, or search all data sets at once for a
        variable.
      </p>
    </section>
    <StackMargin
      :recipe="recipe"
      :common="common"
      :look="props.look"
      :common-look="look"
      :sources="sources"
      :may-change="mayChange"
      @change="emit('change', $event)"
    />
  </div>
</template>

<style scoped>
.stack {
  display: grid;
  grid-template-columns: 230px minmax(0, 1fr) 270px;
  gap: 24px;
  align-items: start;
}
.middle {
  display: grid;
  gap: 12px;
  min-width: 0;
}
.empty {
  font-size: 1.2rem;
  max-width: 32em;
}
@media (max-width: 1000px) {
  .stack {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
