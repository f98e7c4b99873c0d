<script setup lang="ts">
/** How a data set is made of others: changed here, seen at once, and undone. */
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'

import { Problem } from '@/api/client'
import {
  keys,
  useCodebooks,
  useDatasets,
  useRecipe,
  useRecipeLook,
  useRefresh,
} from '@/api/queries'
import type { Recipe, Study } from '@/api/types'
import { plural } from '@/design/numbers'
import { useKeptInView } from '@/inView'
import { useNotices } from '@/notices'
import ErrorNote from '@/parts/ErrorNote.vue'
import { useShortcuts } from '@/shortcuts'
import JobList from '../JobList.vue'
import ReplacementReport from '../ReplacementReport.vue'
import { editors } from './editors'
import NextWays from './NextWays.vue'
import { isComplete } from './recipes'
import Road from './Road.vue'
import { useMaking } from './useMaking'

const props = defineProps<{ study: Study }>()
const route = useRoute()
const notices = useNotices()
const refresh = useRefresh()
const id = computed(() => String(route.params.dataset))
const datasets = useDatasets(() => props.study.id)
const dataset = computed(() => datasets.data.value?.find((each) => each.id === id.value))
const kept = useRecipe(() => props.study.id, id)
const making = useMaking(() => props.study.id)
useKeptInView(
  () => props.study.id,
  () => dataset.value?.id,
)

const mayChange = computed(() => props.study.role !== 'reader')
const recipe = ref<Recipe>()
const error = ref<Error>()
const isChanged = ref(false)
let waiting: ReturnType<typeof setTimeout> | undefined
let isSaving = false

watch(
  () => kept.data.value?.recipe,
  (now) => {
    if (isChanged.value || !now) return
    recipe.value = structuredClone(JSON.parse(JSON.stringify(now))) as Recipe
  },
  { immediate: true },
)
watch(id, () => {
  isChanged.value = false
  recipe.value = undefined
})
const sourceIds = computed(() => kept.data.value?.sources ?? [])
const sources = computed(() =>
  sourceIds.value.map((each) => datasets.data.value?.find((known) => known.id === each)),
)
const codebooks = useCodebooks(
  () => props.study.id,
  () => sourceIds.value,
)
const asked = computed(() => (recipe.value && isComplete(recipe.value) ? recipe.value : undefined))
const look = useRecipeLook(
  () => props.study.id,
  () => sourceIds.value,
  asked,
)
const isReady = computed(
  () => recipe.value && sources.value.every(Boolean) && codebooks.value.every(Boolean),
)

/** What is settled of stacked data is kept as it is settled; the others when somebody says so. */
function change(next: Recipe) {
  recipe.value = next
  isChanged.value = true
  if (next.recipe !== 'stack') return
  clearTimeout(waiting)
  waiting = setTimeout(save, 500)
}

async function save(): Promise<void> {
  const now = dataset.value
  if (!now || !recipe.value) return
  if (isSaving) return
  isSaving = true
  error.value = undefined
  const sent = recipe.value
  try {
    await making.change(now, sent)
    if (recipe.value === sent) isChanged.value = false
  } catch (reason) {
    error.value = reason as Error
    if (reason instanceof Problem && reason.status === 409) {
      isChanged.value = false
      await refresh(...keys.study(props.study.id))
      recipe.value = kept.data.value?.recipe as Recipe
    }
  } finally {
    isSaving = false
  }
  if (isChanged.value && recipe.value !== sent && recipe.value?.recipe === 'stack') await save()
}

async function turn(back: boolean) {
  isChanged.value = false
  await making.turn(id.value, back)
  notices.say(back ? 'Made as it was before.' : 'Made so again.')
}

useShortcuts('How it is made', [
  { key: 'Mod+Z', words: 'As it was before', run: () => kept.data.value?.can_undo && turn(true) },
  {
    key: 'Mod+Shift+Z',
    words: 'So again',
    run: () => kept.data.value?.can_redo && turn(false),
  },
])
</script>

<template>
  <main class="made">
    <Road :study="study" :datasets="datasets.data.value ?? []" :current="id" />
    <JobList :study="study" :may-change="mayChange" @brought="making.again()" />
    <ErrorNote v-if="kept.isError.value" :error="kept.error.value" />
    <header v-if="dataset" class="top">
      <h1 class="serif">{{ dataset.name }}</h1>
      <span class="quiet">{{ plural(dataset.rows, dataset.noun_one, dataset.noun_many) }}</span>
      <router-link
        class="act"
        :to="{ name: 'data', params: { study: study.id, dataset: dataset.id } }"
        >See its rows</router-link
      >
      <template v-if="mayChange">
        <button class="act" :disabled="!kept.data.value?.can_undo" @click="turn(true)">Undo</button>
        <button class="act" :disabled="!kept.data.value?.can_redo" @click="turn(false)">
          Redo
        </button>
      </template>
      <span v-if="isChanged && recipe?.recipe === 'stack'" class="quiet" role="status">saving</span>
    </header>
    <p v-if="dataset?.made?.trouble" class="trouble" role="alert">
      It could not be made again, and stays as it was: {{ dataset.made.trouble }}
    </p>
    <ErrorNote :error="error" />
    <component
      :is="editors[recipe!.recipe]"
      v-if="isReady"
      :study="study"
      :recipe="recipe"
      :sources="sources"
      :codebooks="codebooks"
      :look="asked ? look.data.value : undefined"
      :problem="asked ? look.error.value : null"
      :may-change="mayChange"
      @change="change"
    />
    <p v-else-if="kept.data.value && datasets.data.value && !sources.every(Boolean)" class="quiet">
      One of the data sets it is made from was deleted. It stays as it is.
    </p>
    <p v-if="isChanged && recipe?.recipe !== 'stack' && mayChange">
      <v-btn color="pine" variant="flat" :disabled="!asked || !!look.error.value" @click="save"
        >Make it so</v-btn
      >
    </p>
    <ReplacementReport
      v-if="dataset?.report"
      :study="study"
      :dataset="dataset"
      :may-change="mayChange"
    />
    <NextWays
      v-if="dataset && !isChanged"
      :study="study"
      :dataset="dataset"
      :question="kept.data.value?.question"
    />
  </main>
</template>

<style scoped>
.made {
  padding: 16px 24px 30px;
  display: grid;
  gap: 16px;
}
.top {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  align-items: baseline;
}
h1 {
  font-size: 1.6rem;
  font-weight: 500;
}
.trouble {
  color: var(--fail);
}
</style>
