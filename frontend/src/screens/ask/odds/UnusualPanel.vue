<script setup lang="ts">
/** Unusual rows: a picture, the extreme ones with their data, and the model without chosen ones. */
import { computed, ref } from 'vue'

import type { Figures, Schemas } from '@/api/types'
import { count, three, two } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import { useOptions, useResults } from '../useAsking'

defineProps<{ found: Schemas['UnusualPanel']; figures: Figures }>()

const results = useResults<Schemas['OddsResults']>()
const { options, set } = useOptions('odds')
const across = ref<'row' | 'fitted'>('row')
const gone = computed(() => options.value.without_rows)
const goneInOrder = computed(() => [...gone.value].sort((a, b) => a - b).join(', '))

function turn(row: number, isOut: boolean) {
  const rest = gone.value.filter((each) => each !== row)
  set({ without_rows: isOut ? [...rest, row] : rest })
}
</script>

<template>
  <p>
    The largest Cook’s distance is {{ two(found.largest_cooks_distance) }}; no row moves a
    coefficient by more than {{ two(found.largest_move) }} standard errors. A row is unusual when
    its outcome was unlikely given its data; that does not make it wrong.
  </p>
  <div class="choices views" role="group" aria-label="Picture against">
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
  <p v-if="found.points.length < found.of" class="quiet">
    {{ count(found.points.length) }} of {{ count(found.of) }} rows are drawn: the extreme ones and a
    regular part of the others.
  </p>
  <div class="scroll" tabindex="0" role="region" aria-label="The most unusual rows">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">leave out</th>
          <th scope="col">Row</th>
          <th scope="col">{{ results.event_label }}</th>
          <th scope="col">predicted</th>
          <th scope="col">residual</th>
          <th scope="col">Cook</th>
          <th scope="col" class="left">moves most, by standard errors</th>
          <th v-for="title in found.columns" :key="title" scope="col" class="left value">
            {{ title }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="each in found.most_extreme" :key="`${each.row} ${each.observed}`">
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
          <td>{{ three(each.fitted) }}</td>
          <td :title="`Pearson ${each.pearson}, deviance ${each.deviance}`">
            {{ two(each.standardized_pearson) }}
          </td>
          <td :title="`leverage ${each.leverage}`">{{ three(each.cooks_distance) }}</td>
          <td class="left">{{ each.most_moved }}, {{ two(each.moved_by) }}</td>
          <td v-for="(value, i) in each.values" :key="i" class="left value">{{ value }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-if="gone.length" class="quiet">
    The table above shows the odds ratios without {{ gone.length === 1 ? 'row' : 'rows' }}
    {{ goneInOrder }} beside those of everybody. Nothing else changes: the answer rests on
    everybody.
  </p>
</template>

<style scoped>
.views {
  margin: 8px 0;
}
.value {
  max-width: 130px;
}
</style>
