<script setup lang="ts">
/** The correspondence map, what its axes carry, and how far each point can be trusted. */
import { computed } from 'vue'

import type { Figures, Schemas } from '@/api/types'
import { count, points, three } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import { useAsking } from '../useAsking'

const props = defineProps<{ found: Schemas['MapPanel']; figures: Figures }>()

const { titles } = useAsking()
const whole = (share: number | undefined) => count(100 * (share ?? 0))
const poor = computed(() =>
  [...props.found.rows, ...props.found.columns]
    .filter((point) => point.is_poor)
    .map((point) => `“${point.label}”`),
)
</script>

<template>
  <div class="side">
    <FigureView
      :spec="figures.map!"
      :label="`Correspondence map: ${titles.rows} as dots, ${titles.columns} as squares`"
      name="Map"
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
      <tbody v-for="(side, i) in [found.rows, found.columns]" :key="i">
        <tr v-for="point in side" :key="point.label">
          <th scope="row">{{ i ? '■' : '●' }} {{ point.label }}</th>
          <td>{{ points(point.mass) }}</td>
          <td>{{ whole(point.shown) }}</td>
          <td>{{ whole(point.contributions[0]) }}</td>
          <td>{{ whole(point.contributions[1]) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <p class="quiet read">
    Groups near each other are answered alike, and so are answers near each other; groups and
    answers on the same side of the middle go together more than if unrelated. The distance between
    a group and an answer is <b>not</b> a distance. Two axes carry {{ whole(found.shown) }}% of what
    there is to see (inertia {{ three(found.total_inertia) }} in
    {{ found.percent.length }} axes)<template v-if="!found.is_enough"
      >: <b>much is left out</b>, so read the table too</template
    >.
    <template v-if="poor.length">Badly placed: {{ poor.join(', ') }}.</template>
  </p>
</template>

<style scoped>
.read {
  margin-top: 8px;
  max-width: 720px;
}
</style>
