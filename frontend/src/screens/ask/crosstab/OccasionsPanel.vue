<script setup lang="ts">
/** Several yes/no answers of the same people: the share each time, and every change between two. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { count, limits, percent, pEquals, points, pValue, statistic } from '@/design/numbers'

const props = defineProps<{ found: Schemas['OccasionsPanel'] }>()
const most = computed(() => Math.max(...props.found.occasions.map(({ share }) => share), 0.01))
</script>

<template>
  <p>
    <b>{{ count(found.n) }}</b> answered every time; {{ count(found.mixed) }} of them did not say
    the same every time.
    <template v-if="found.test?.statistic != null">
      As common every time? {{ found.test.name }}: χ² {{ statistic(found.test.statistic) }}, df
      {{ found.test.df }}, {{ pEquals(found.test.p) }}.
    </template>
  </p>
  <div class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">{{ found.event_label }}</th>
          <th scope="col">of {{ count(found.n) }}</th>
          <th scope="col">share</th>
          <th scope="col"><span class="visually-hidden">bar</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="each in found.occasions" :key="each.title">
          <th scope="row">{{ each.title }}</th>
          <td>{{ count(each.events) }}</td>
          <td>{{ percent(each.share) }}</td>
          <td class="room">
            <span class="bar" :style="{ width: `${(100 * each.share) / most}%` }" />
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <div class="scroll">
    <table class="plain">
      <caption class="quiet">
        Every two, by McNemar’s exact test; limits of the change are Newcombe’s
      </caption>
      <thead>
        <tr>
          <th scope="col">From … to …</th>
          <th scope="col">change, points</th>
          <th scope="col">p</th>
          <th scope="col">all pairs allowed for (Holm)</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="each in found.changes" :key="`${each.first} ${each.second}`">
          <th scope="row">{{ each.first }} → {{ each.second }}</th>
          <td>
            <b>{{ points(each.change) }}</b>
            <small class="quiet">{{ limits(each.ci, points) }}</small>
          </td>
          <td>{{ pValue(each.exact_p) }}</td>
          <td>{{ pValue(each.p_adjusted) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.room {
  width: 140px;
}
.bar {
  display: block;
  height: 10px;
  background: rgb(var(--v-theme-bar));
}
caption {
  text-align: left;
  padding: 8px 0 4px;
}
</style>
