<script setup lang="ts">
/** The same model within each stratum, side by side: a line per odds ratio, a column per stratum. */
import { limitsOf, ratioOf } from './shareWords'

type Ratio = number | 'Infinity' | null | undefined
type Limits = readonly (number | 'Infinity')[] | null | undefined
interface Cell {
  ratio: Ratio
  ci: Limits
  title?: string
}

defineProps<{
  title: string
  heading: string
  rows: { name: string; together: Cell; within: Cell[] }[]
  strata: { label: string; people: string }[]
  leftOut: { label: string; left_out: string | null }[]
  /** Are the coefficients the same everywhere: the test, or why there is none. */
  same: string
}>()
</script>

<template>
  <section class="strata" :aria-label="`Within each ${title}`">
    <h3 class="overline">{{ heading }}</h3>
    <slot />
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">Odds ratio</th>
            <th scope="col">together</th>
            <th v-for="stratum in strata" :key="stratum.label" scope="col">
              {{ stratum.label }}<br /><small class="quiet">{{ stratum.people }}</small>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.name">
            <th scope="row">{{ row.name }}</th>
            <td :title="limitsOf(row.together.ci)">
              <b>{{ ratioOf(row.together.ratio) }}</b>
            </td>
            <td v-for="(cell, i) in row.within" :key="i" :title="cell.title">
              {{ ratioOf(cell.ratio) }}
              <small class="quiet">{{ limitsOf(cell.ci) }}</small>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-for="stratum in leftOut" :key="stratum.label" class="quiet">
      {{ stratum.label }} is left out: {{ stratum.left_out }}
    </p>
    <p class="quiet">{{ same }}</p>
  </section>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
small {
  white-space: nowrap;
}
</style>
