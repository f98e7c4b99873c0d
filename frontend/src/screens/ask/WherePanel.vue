<script setup lang="ts">
/** Where an association lies: cells in words, every two groups, how many cells are allowed for. */
import type { Answer, Crosstab, Question } from '@/api/types'
import { pValue } from '@/design/numbers'

const props = defineProps<{ answer: Answer; table: Crosstab; question: Question }>()
const emit = defineEmits<{ change: [question: Question] }>()

const adjustments = [
  { value: 'holm', title: 'Holm' },
  { value: 'bonferroni', title: 'Bonferroni' },
  { value: 'benjamini_hochberg', title: 'Benjamini–Hochberg' },
  { value: 'none', title: 'nothing (one by one)' },
]

function set(adjust: string) {
  emit('change', { ...props.question, options: { ...props.question.options, adjust } })
}
</script>

<template>
  <div class="where">
    <v-select
      :model-value="table.adjustment"
      :items="adjustments"
      label="Many cells and pairs allowed for by"
      class="choice"
      @update:model-value="set($event)"
    />
    <div class="columns">
      <section>
        <h3 class="overline">Cells that stand out</h3>
        <ol v-if="answer.reading.ranked.length">
          <li v-for="words in answer.reading.ranked.slice(0, 12)" :key="words">{{ words }}</li>
        </ol>
        <p v-else class="quiet">None, with that many cells allowed for.</p>
      </section>
      <section v-if="table.pairwise.length">
        <h3 class="overline">Every two groups</h3>
        <table class="plain">
          <tbody>
            <tr v-for="pair in table.pairwise" :key="`${pair.one} ${pair.other}`">
              <th scope="row">{{ pair.one }} and {{ pair.other }}</th>
              <td>χ² {{ pair.chi_square.statistic.toFixed(1) }}</td>
              <td :title="`by itself ${pValue(pair.chi_square.p)}`">
                p {{ pValue(pair.p_adjusted) }}
              </td>
            </tr>
          </tbody>
        </table>
      </section>
    </div>
  </div>
</template>

<style scoped>
.choice {
  max-width: 320px;
  margin-bottom: 10px;
}
.columns {
  display: flex;
  flex-wrap: wrap;
  gap: 16px 44px;
}
ol {
  margin: 0;
  padding-left: 20px;
}
</style>
