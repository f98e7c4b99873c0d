<script setup lang="ts">
/** Weights, strata and clusters of the sample, how errors are found, and whether it holds up. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { client, unwrap } from '@/api/client'
import type { DataSet, Entry, Question, Study } from '@/api/types'
import { useMakeStep } from '@/api/useSteps'
import { useNotices } from '@/notices'
import ErrorNote from '@/parts/ErrorNote.vue'
import DrawsAndSeed from '@/parts/DrawsAndSeed.vue'
import Miniature from '@/parts/Miniature.vue'
import { design, itemsOf, numericItems, takenTogether, type Design } from './design'
import MakeWeights from './MakeWeights.vue'

const props = defineProps<{
  study: Study
  dataset: DataSet
  codebook: Entry[]
  mayChange: boolean
  change: (counting: Question['counted_by']) => Promise<void>
}>()
const notices = useNotices()
const steps = useMakeStep(
  () => props.study.id,
  () => props.dataset.id,
)

const now = computed(() =>
  props.dataset.counted_by.kind === 'design' ? props.dataset.counted_by : undefined,
)
const numeric = computed(() => numericItems(props.codebook))
const any = computed(() => itemsOf(props.codebook))
const errors = [
  { value: 'linearised', title: 'linearised' },
  { value: 'jackknife', title: 'leaving clusters out' },
  { value: 'bootstrap', title: 'drawing clusters again' },
]
const rules = [
  { value: 'nothing', title: 'add nothing to the error' },
  { value: 'grand_mean', title: 'add their distance from the mean of all clusters' },
]

const look = useQuery({
  queryKey: computed(() => [
    'study',
    props.study.id,
    'counting',
    props.dataset.id,
    props.dataset.version,
  ]),
  queryFn: () =>
    unwrap(
      client.GET('/api/studies/{study_id}/datasets/{dataset_id}/counting', {
        params: { path: { study_id: props.study.id, dataset_id: props.dataset.id } },
      }),
    ),
  enabled: () => !!now.value,
})
const weights = computed(() =>
  props.codebook.find(({ variable }) => variable.name === now.value?.weights),
)
const single = computed(() => look.data.value?.single ?? [])
const labelOf = (value: string) => {
  const strata = props.codebook.find(({ variable }) => variable.name === now.value?.strata)
  return strata?.variable.categories.find((category) => category.value === value)?.label ?? value
}
const others = (value: string) =>
  (look.data.value?.strata ?? [])
    .filter((stratum) => stratum.value !== value)
    .map((stratum) => ({ title: stratum.label, value: stratum.value }))

async function set(changes: Partial<Design>) {
  const next = design(null, { ...now.value, ...changes })
  if (next.weights || next.strata || next.clusters) await props.change(next)
}

/** The new weights are used at once; taking them back gives the design as it was before. */
async function made(name: string) {
  const before = props.dataset.counted_by
  await set({ weights: name })
  notices.say(`The data are weighted by ${name} now.`, async () => {
    await props.change(before)
    await steps.undo()
  })
}
</script>

<template>
  <div class="design">
    <v-select
      :model-value="now?.weights ?? null"
      :items="numeric"
      label="Weights"
      clearable
      :disabled="!mayChange"
      class="part"
      @update:model-value="set({ weights: $event })"
    />
    <v-select
      :model-value="now?.strata ?? null"
      :items="any"
      label="Strata"
      clearable
      :disabled="!mayChange"
      class="part"
      @update:model-value="set({ strata: $event, together: [] })"
    />
    <v-select
      :model-value="now?.clusters ?? null"
      :items="any"
      label="Clusters"
      clearable
      :disabled="!mayChange"
      class="part"
      @update:model-value="set({ clusters: $event })"
    />
    <v-select
      v-if="now"
      :model-value="now.errors"
      :items="errors"
      label="Errors"
      :disabled="!mayChange"
      class="part"
      @update:model-value="set({ errors: $event })"
    />
    <DrawsAndSeed
      v-if="now?.errors === 'bootstrap'"
      label="Draws"
      :draws="now.draws"
      :from="100"
      :to="2000"
      :seed="now.seed"
      @change="set"
    />
    <div v-if="look.data.value?.findings.length" class="found">
      <figure v-if="weights" class="spread">
        <Miniature :entry="weights" />
        <figcaption class="quiet">weights, least to most</figcaption>
      </figure>
      <ul class="findings quiet">
        <li v-for="finding in look.data.value.findings" :key="finding">{{ finding }}</li>
      </ul>
    </div>
    <div v-else-if="look.isLoading.value" class="found" aria-busy="true" />
    <template v-if="now && mayChange">
      <v-select
        v-if="single.length && now.errors === 'linearised'"
        :model-value="now.single"
        :items="rules"
        label="Strata with one cluster"
        class="rule"
        @update:model-value="set({ single: $event })"
      />
      <template v-if="look.data.value?.strata.length">
        <v-select
          v-for="stratum in single.slice(0, 6)"
          :key="stratum.value"
          :model-value="null"
          :items="others(stratum.value)"
          :label="`Take ${stratum.label} together with`"
          class="part"
          @update:model-value="
            set({ together: takenTogether(now, stratum.value, $event as unknown as string) })
          "
        />
      </template>
      <p v-for="group in now.together" :key="group.join()" class="quiet line">
        Taken as one stratum: {{ group.map(labelOf).join(' with ') }}.
        <button
          class="act"
          @click="set({ together: now.together.filter((each) => each !== group) })"
        >
          Apart again
        </button>
      </p>
    </template>
    <MakeWeights
      v-if="mayChange"
      v-bind="{ study, dataset, codebook, weights: now?.weights ?? undefined }"
      @made="made"
    />
    <ErrorNote :error="look.error.value" />
  </div>
</template>

<style scoped>
.design {
  flex: 1 1 100%;
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}
.part {
  flex: 0 1 210px;
}
.rule {
  flex: 0 1 360px;
}
.line {
  flex: 1 1 100%;
  display: flex;
  gap: 20px;
}
.found {
  flex: 1 1 100%;
  display: flex;
  gap: 18px;
  align-items: center;
  /* Of the picture of the weights, so that nothing moves when it comes. */
  min-height: 41px;
}
.spread {
  flex: 0 0 150px;
  display: grid;
  gap: 2px;
  margin: 0;
  font-size: 0.83rem;
}
.findings {
  margin: 0;
  padding-left: 18px;
  font-size: 0.93rem;
}
</style>
