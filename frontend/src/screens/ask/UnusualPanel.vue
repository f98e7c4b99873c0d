<script setup lang="ts">
/** Unusual rows: a picture, the extreme ones with their data, and the model without chosen ones. */
import { computed, ref } from 'vue'

import type { FigureSpec, OddsResults, Question } from '@/api/types'
import { count } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import { withOptions } from './options'

const props = defineProps<{
  results: OddsResults
  figures: Record<string, FigureSpec>
  question: Question
}>()
const emit = defineEmits<{ change: [question: Question] }>()

const across = ref<'row' | 'fitted'>('row')
const seen = computed(() => props.results.whole.residuals)
const gone = computed(() => (props.question.options.without_rows as number[] | undefined) ?? [])
const fixed = (value: number) => value.toFixed(2).replace('-', '−')

function turn(row: number, isOut: boolean) {
  const rest = gone.value.filter((each) => each !== row)
  const next = isOut ? [...rest, row] : rest
  emit('change', withOptions(props.question, { without_rows: next.length ? next : undefined }))
}
</script>

<template>
  <p>
    The largest Cook’s distance is {{ fixed(seen.largest_cooks_distance) }}; no row moves a
    coefficient by more than {{ fixed(seen.largest_move) }} standard errors. A row is unusual when
    its outcome was unlikely given its data; that does not make it wrong.
  </p>
  <div class="views" role="group" aria-label="Picture against">
    <button class="act" :aria-pressed="across === 'row'" @click="across = 'row'">
      in row order
    </button>
    <button class="act" :aria-pressed="across === 'fitted'" @click="across = 'fitted'">
      against prediction
    </button>
  </div>
  <FigureView
    :key="across"
    :spec="figures[`residuals:${across}`]!"
    label="Standardised residuals; the most unusual rows carry their number"
    name="Residuals"
  />
  <p v-if="seen.points.length < seen.of" class="quiet">
    {{ count(seen.points.length) }} of {{ count(seen.of) }} rows are drawn: the extreme ones and a
    regular part of the others.
  </p>
  <div class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">leave out</th>
          <th scope="col">Row</th>
          <th scope="col">{{ results.event_label }}</th>
          <th scope="col">predicted</th>
          <th scope="col">residual</th>
          <th scope="col">Cook</th>
          <th scope="col">moves most</th>
          <th v-for="title in seen.columns" :key="title" scope="col">{{ title }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="each in seen.most_extreme" :key="`${each.row} ${each.observed}`">
          <td>
            <input
              type="checkbox"
              :checked="gone.includes(each.row)"
              :aria-label="`Leave out row ${each.row}`"
              @change="turn(each.row, ($event.target as HTMLInputElement).checked)"
            />
          </td>
          <th scope="row">{{ each.row }}</th>
          <td>{{ each.observed ? 'yes' : 'no' }}</td>
          <td>{{ each.fitted.toFixed(3) }}</td>
          <td :title="`Pearson ${each.pearson}, deviance ${each.deviance}`">
            {{ fixed(each.standardized_pearson) }}
          </td>
          <td :title="`leverage ${each.leverage}`">{{ each.cooks_distance.toFixed(3) }}</td>
          <td>{{ each.most_moved }}, {{ fixed(each.moved_by) }} se</td>
          <td v-for="(value, i) in each.values" :key="i">{{ value }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-if="gone.length" class="quiet">
    The table above shows the odds ratios without
    {{
      gone.length === 1 ? `row ${gone[0]}` : `rows ${[...gone].sort((a, b) => a - b).join(', ')}`
    }}
    beside those of everybody. Nothing else changes: the answer rests on everybody.
  </p>
</template>

<style scoped>
.views {
  display: flex;
  gap: 16px;
  margin: 8px 0;
}
.views [aria-pressed='true'] {
  color: var(--ink);
  border-bottom: 2px solid var(--pine);
}
.scroll {
  overflow-x: auto;
}
</style>
