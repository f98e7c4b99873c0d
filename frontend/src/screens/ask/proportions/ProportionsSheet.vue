<script setup lang="ts">
/** The event's share in each group and how far apart they are, with their picture. */
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/types'
import { count, limits, pEquals, ratio } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import { ofRows } from '../answer/pictures'
import { useAsking, useResults } from '../useAsking'
import SharesByStratum from './SharesByStratum.vue'
import SharesTable from './SharesTable.vue'

const PAGE = 40
type Order = 'codebook' | 'share' | 'size'
const { figures, titles } = useAsking()
const results = useResults<Schemas['ProportionsResults']>()
const order = ref<Order>('codebook')
const page = ref(0)
const whole = computed(() => results.value.whole)
const sorted = computed(() => {
  const by: Record<Order, (group: { share: number; n: number }) => number> = {
    codebook: () => 0,
    share: (group) => -group.share,
    size: (group) => -group.n,
  }
  return [...whole.value.groups].sort((a, b) => by[order.value](a) - by[order.value](b))
})
const shown = computed(() => sorted.value.slice(page.value * PAGE, (page.value + 1) * PAGE))
const picture = computed(() =>
  ofRows(
    figures.value.dots!,
    shown.value.map(({ value }) => value),
  ),
)
const pages = computed(() => Math.ceil(sorted.value.length / PAGE))
const orders: [Order, string][] = [
  ['codebook', 'the codebook'],
  ['share', 'share'],
  ['size', 'size'],
]
const step = computed(() => results.value.trend?.per_step)
</script>

<template>
  <p class="choices order">
    <span class="quiet">{{ titles.rows }} in order of</span>
    <button
      v-for="[key, words] in orders"
      :key="key"
      class="act"
      :aria-pressed="order === key"
      @click="order = key"
    >
      {{ words }}
    </button>
  </p>
  <div class="side">
    <div>
      <SharesTable :groups="shown" :results="results" />
      <p v-if="pages > 1" class="choices">
        <button class="act" :disabled="page === 0" @click="page--">Before</button>
        <span class="quiet"
          >{{ page * PAGE + 1 }} to {{ Math.min(sorted.length, (page + 1) * PAGE) }} of
          {{ count(sorted.length) }}</span
        >
        <button class="act" :disabled="page >= pages - 1" @click="page++">After</button>
      </p>
      <p v-if="step" class="quiet">
        Along the order of the groups, each step multiplies the odds by
        {{ ratio(step.odds_ratio) }} ({{ limits(step.ci) }}; {{ pEquals(step.p) }}, adjusted Wald
        test).
      </p>
    </div>
    <FigureView
      :spec="picture"
      :label="`Share with ${whole.event_label} in each group of ${titles.rows}, with intervals`"
      :name="`${whole.event_label} by ${titles.rows}`"
    />
  </div>
  <SharesByStratum v-if="results.strata.length" :results="results" />
</template>

<style scoped>
.order {
  margin-bottom: 4px;
  font-size: 0.93rem;
}
</style>
