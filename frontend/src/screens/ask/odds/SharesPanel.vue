<script setup lang="ts">
/** Shares with everybody in one category after the other, all else as it is, against the reference. */
import type { Figures, Schemas } from '@/api/types'
import FigureView from '@/parts/FigureView.vue'
import { limits, percent, points, pValue, ratio } from '@/design/numbers'

defineProps<{ found: Schemas['SharesPanel']; figures: Figures }>()
</script>

<template>
  <p class="quiet">
    Shares with the event by the model, with everybody set to one category after the other and all
    else as it is. That does not show that changing the category would change the share.
  </p>
  <div class="scroll">
    <table v-for="variable in found.variables" :key="variable.variable" class="plain">
      <thead>
        <tr>
          <th scope="col">{{ variable.title }}</th>
          <th scope="col">share</th>
          <th scope="col">times as common</th>
          <th scope="col">difference, points</th>
          <th scope="col">p</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="level in variable.levels" :key="level.value">
          <th scope="row">
            {{ level.label }} <small v-if="level.ratio === null" class="quiet">reference</small>
          </th>
          <td>
            {{ percent(level.share) }} <small>{{ limits(level.share_ci, percent) }}</small>
          </td>
          <template v-if="level.ratio !== null">
            <td>
              <b>{{ ratio(level.ratio) }}</b> <small>{{ limits(level.ratio_ci) }}</small>
            </td>
            <td>
              {{ points(level.difference) }}
              <small>{{ limits(level.difference_ci, points) }}</small>
            </td>
            <td>{{ pValue(level.p) }}</td>
          </template>
          <template v-else>
            <td>1</td>
            <td>0</td>
            <td></td>
          </template>
        </tr>
      </tbody>
    </table>
  </div>
  <FigureView
    v-if="figures.shares"
    :spec="figures.shares"
    label="Ratios of shares with intervals, on a log scale"
    name="Ratios of shares"
  />
</template>

<style scoped>
table + table {
  margin-top: 12px;
}
</style>
