<script setup lang="ts">
/** Where an association lies: cells in words, every two groups, how many cells are allowed for. */
import type { Schemas } from '@/api/types'
import { pValue, statistic } from '@/design/numbers'
import { useOptions } from '../useAsking'

defineProps<{ found: Schemas['WherePanel'] }>()

const { options, set } = useOptions('crosstab')
const adjustments = [
  { value: 'holm', title: 'Holm' },
  { value: 'bonferroni', title: 'Bonferroni' },
  { value: 'benjamini_hochberg', title: 'Benjamini–Hochberg' },
  { value: 'none', title: 'nothing (one by one)' },
]
</script>

<template>
  <v-select
    :model-value="options.adjust"
    :items="adjustments"
    label="Many cells and pairs allowed for by"
    class="choice"
    @update:model-value="set({ adjust: $event })"
  />
  <div class="side">
    <section>
      <h3 class="overline">Cells that stand out</h3>
      <ol v-if="found.ranked.length">
        <li v-for="words in found.ranked.slice(0, 12)" :key="words">{{ words }}</li>
      </ol>
      <p v-else class="quiet">None, with that many cells allowed for.</p>
    </section>
    <section v-if="found.pairwise.length">
      <h3 class="overline">Every two groups</h3>
      <table class="plain">
        <tbody>
          <tr v-for="pair in found.pairwise" :key="`${pair.one} ${pair.other}`">
            <th scope="row">{{ pair.one }} and {{ pair.other }}</th>
            <td>χ² {{ statistic(pair.chi_square.statistic) }}</td>
            <td :title="`by itself ${pValue(pair.chi_square.p)}`">
              p {{ pValue(pair.p_adjusted) }}
            </td>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
</template>

<style scoped>
.choice {
  max-width: 320px;
  margin-bottom: 10px;
}
ol {
  margin: 0;
  padding-left: 20px;
}
</style>
