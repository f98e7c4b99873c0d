<script setup lang="ts">
/** Choose how data sets come together, and which; what comes of it is seen before it is made. */
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'

import { useCodebooks, useDatasets, useRecipeLook } from '@/api/queries'
import type { DataSet, Recipe, Study } from '@/api/types'
import ErrorNote from '@/parts/ErrorNote.vue'
import { editors } from './editors'
import { isComplete, newGroups, newMatch, newOnePerCase, newStack, ways, type Way } from './recipes'
import SourceChoice from './SourceChoice.vue'
import { useMaking } from './useMaking'

const props = defineProps<{ study: Study }>()
const route = useRoute()
const datasets = useDatasets(() => props.study.id)
const making = useMaking(() => props.study.id)

const usable = computed(() => (datasets.data.value ?? []).filter((each) => !each.is_draft))
const way = ref<Way | undefined>(route.query.way as Way | undefined)
const chosen = ref<string[]>(route.query.from ? [String(route.query.from)] : [])
const recipe = ref<Recipe>()
const name = ref('')
const error = ref<Error>()
const isMaking = ref(false)

const sources = computed(() =>
  chosen.value.map((id) => usable.value.find((each) => each.id === id)).filter((each) => !!each),
)
const needed = computed(() => (way.value ? ways[way.value].sources : 0))
const hasAll = computed(() =>
  needed.value ? sources.value.length === needed.value : sources.value.length > 1,
)
const codebooks = useCodebooks(
  () => props.study.id,
  () => chosen.value,
)
const asked = computed(() => (recipe.value && isComplete(recipe.value) ? recipe.value : undefined))
const look = useRecipeLook(
  () => props.study.id,
  () => chosen.value,
  asked,
)

/** The other editors say beside their sentence why it does not work. */
const problem = computed(
  () => error.value ?? (way.value === 'stack' ? (look.error.value ?? undefined) : undefined),
)

/** Of data sets that are not needed any more the first stays. */
watch(way, () => (chosen.value = needed.value ? chosen.value.slice(0, needed.value) : chosen.value))
watch(
  [way, chosen, codebooks],
  () => {
    const [here, there] = codebooks.value
    if (!way.value || !hasAll.value || !here) recipe.value = undefined
    else if (recipe.value?.recipe !== way.value) start(here, there)
  },
  { deep: true, immediate: true },
)

function start(here: NonNullable<(typeof codebooks.value)[0]>, there: typeof here | undefined) {
  const [first, second] = sources.value as [DataSet, DataSet | undefined]
  if (way.value === 'stack') recipe.value = newStack(sources.value)
  else if (way.value === 'match') {
    if (!there) return
    recipe.value = newMatch(here, there)
    name.value = `${first.name} with ${second!.name}`
  } else if (way.value === 'one_per_case') {
    recipe.value = newOnePerCase()
    name.value = `${first.name}, one row each`
  } else {
    recipe.value = newGroups()
    name.value = `Groups of ${first.name}`
  }
}

function turn(id: string) {
  recipe.value = undefined
  if (chosen.value.includes(id)) chosen.value = chosen.value.filter((each) => each !== id)
  else if (needed.value === 1) chosen.value = [id]
  else chosen.value = [...chosen.value, id].slice(needed.value ? -needed.value : 0)
}

async function make() {
  error.value = undefined
  isMaking.value = true
  const made = way.value === 'stack' ? newStack(sources.value) : recipe.value
  const called = name.value.trim() || sources.value.map((each) => each.name).join(' and ')
  try {
    if (made) await making.make(called.slice(0, 200), made, chosen.value)
  } catch (reason) {
    error.value = reason as Error
  } finally {
    isMaking.value = false
  }
}
</script>

<template>
  <main class="bring">
    <p>
      <router-link class="act" :to="{ name: 'data', params: { study: study.id } }"
        >← Data</router-link
      >
    </p>
    <h1 class="serif">Bring data sets together</h1>
    <div class="ways" role="radiogroup" aria-label="How">
      <button
        v-for="({ words, says }, each) in ways"
        :key="each"
        class="way"
        role="radio"
        :aria-checked="way === each"
        @click="way = each"
      >
        <b>{{ words }}</b>
        <span class="quiet">{{ says }}</span>
      </button>
    </div>
    <SourceChoice v-if="way" :needed="needed" :datasets="usable" :chosen="chosen" @turn="turn" />
    <component
      :is="editors[recipe.recipe]"
      v-if="recipe && way !== 'stack' && recipe.recipe === way && codebooks.every(Boolean)"
      :study="study"
      :recipe="recipe"
      :sources="sources"
      :codebooks="codebooks"
      :look="asked ? look.data.value : undefined"
      :problem="asked ? look.error.value : null"
      :may-change="study.role !== 'reader'"
      @change="recipe = $event"
    />
    <form v-if="way && hasAll && recipe" class="making" @submit.prevent="make">
      <label class="name"
        ><span class="quiet">Called</span>
        <input
          v-model="name"
          maxlength="200"
          :placeholder="sources.map((s) => s.name).join(' and ')"
          aria-label="Name of the new data set"
      /></label>
      <v-btn
        type="submit"
        color="pine"
        variant="flat"
        :loading="isMaking"
        :disabled="study.role === 'reader' || !asked || !!look.error.value"
        >{{ way === 'stack' ? 'Stack them' : 'Make it' }}</v-btn
      >
      <span v-if="way === 'stack'" class="quiet"
        >Which variables they have in common is settled next.</span
      >
    </form>
    <ErrorNote :error="problem" />
  </main>
</template>

<style scoped>
.bring {
  padding: 16px 24px 30px;
  display: grid;
  gap: 18px;
  max-width: 1100px;
}
h1 {
  font-size: 1.75rem;
  font-weight: 500;
}
.ways {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(230px, 1fr));
  gap: 14px;
}
.way {
  display: grid;
  align-content: start;
  gap: 3px;
  text-align: left;
  padding: 4px 0 8px 12px;
  border-left: 2px solid var(--hairline);
}
.way[aria-checked='true'] {
  border-color: var(--pine);
  background: var(--pine-soft);
}
.way[aria-checked='true'] b {
  color: var(--pine);
}
.making {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 18px;
  align-items: baseline;
}
.name {
  display: flex;
  gap: 8px;
  align-items: baseline;
}
.name input {
  width: 340px;
  max-width: 60vw;
  border: 0;
  border-bottom: 2px solid var(--pine);
  font: inherit;
  color: var(--ink);
  background: transparent;
  padding: 2px 4px;
}
</style>
