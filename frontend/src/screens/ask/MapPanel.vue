<script setup lang="ts">
/** The correspondence map, what its axes carry, and how far each point can be trusted. */
import { computed } from 'vue'

import type { Crosstab, FigureSpec } from '@/api/types'
import FigureView from '@/parts/FigureView.vue'

const props = defineProps<{
  map: NonNullable<Crosstab['correspondence']>
  picture: FigureSpec
  titles: { rows: string; columns: string }
}>()

const ENOUGH = 80
const two = computed(() => props.map.percent.slice(0, 2).reduce((sum, each) => sum + each, 0))
const quality = (cosines: readonly number[]) => 100 * ((cosines[0] ?? 0) + (cosines[1] ?? 0))
const poor = computed(() =>
  [...props.map.rows, ...props.map.columns]
    .filter((point) => quality(point.squared_cosines) < 50)
    .map((point) => `“${point.label}”`),
)
</script>

<template>
  <div class="side">
    <FigureView
      :spec="picture"
      :label="`Correspondence map: ${titles.rows} as dots, ${titles.columns} as squares`"
    />
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">Point</th>
          <th scope="col">share</th>
          <th scope="col" title="How much of the point’s distance the map shows">shown, %</th>
          <th scope="col" title="Contribution to the axis">axis 1, %</th>
          <th scope="col">axis 2, %</th>
        </tr>
      </thead>
      <tbody v-for="(points, i) in [map.rows, map.columns]" :key="i">
        <tr v-for="point in points" :key="point.label">
          <th scope="row">{{ i ? '■' : '●' }} {{ point.label }}</th>
          <td>{{ (100 * point.mass).toFixed(1) }}</td>
          <td>{{ quality(point.squared_cosines).toFixed(0) }}</td>
          <td>{{ (100 * (point.contributions[0] ?? 0)).toFixed(0) }}</td>
          <td>{{ (100 * (point.contributions[1] ?? 0)).toFixed(0) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <p class="quiet read">
    Groups near each other are answered alike, and so are answers near each other; groups and
    answers on the same side of the middle go together more than if unrelated. The distance between
    a group and an answer is <b>not</b> a distance. Two axes carry {{ two.toFixed(0) }}% of what
    there is to see (inertia {{ map.total_inertia.toFixed(3) }} in
    {{ map.percent.length }} axes)<template v-if="two < ENOUGH"
      >: <b>much is left out</b>, so read the table too</template
    >.
    <template v-if="poor.length">Badly placed: {{ poor.join(', ') }}.</template>
  </p>
</template>

<style scoped>
.side {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 28px;
  align-items: flex-start;
}
.read {
  margin-top: 8px;
  max-width: 720px;
}
</style>
