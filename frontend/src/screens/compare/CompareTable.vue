<script setup lang="ts">
/** What is estimated down, answers across; each held against the first where that is right. */
import { computed } from 'vue'

import type { Question, Schemas } from '@/api/types'
import { count } from '@/design/numbers'
import CompareCell from './CompareCell.vue'

type SideBySide = Schemas['SideBySide']

const props = defineProps<{ comparison: SideBySide }>()
const emit = defineEmits<{ change: [at: number, question: Question]; 'to-front': [at: number] }>()

/** Why an answer is not tested against the first, said once over its column. */
const reasons = computed(() =>
  props.comparison.answers.map((_, i) => {
    const contrasts = props.comparison.rows.map((row) => row.contrasts[i])
    return contrasts.find((each) => each && !each.ci)?.says
  }),
)

/** Rows under what they are estimates of. */
const parts = computed(() => {
  const made = new Map<string, SideBySide['rows'][number][]>()
  for (const row of props.comparison.rows) {
    const head = `${row.measure} · ${row.of}`
    made.set(head, [...(made.get(head) ?? []), row])
  }
  return [...made]
})
</script>

<template>
  <div class="scroll">
    <table class="plain compared">
      <thead>
        <tr>
          <th scope="col"></th>
          <th v-for="(answer, i) in comparison.answers" :key="i" scope="col">
            <b>{{ answer.title }}</b>
            <span v-for="each in answer.differs" :key="each" class="differs">{{ each }}</span>
            <span v-if="answer.why_not" class="care">{{ answer.why_not }}</span>
            <span v-else class="quiet">{{ count(answer.counted!) }} counted</span>
            <span v-if="reasons[i]" class="quiet">{{ reasons[i] }}</span>
            <button v-if="i" class="act" @click="emit('to-front', i)">hold against this</button>
            <span v-else class="quiet">the others are held against this</span>
          </th>
        </tr>
      </thead>
      <tbody v-for="[head, rows] in parts" :key="head">
        <tr>
          <th scope="rowgroup" class="part" :colspan="comparison.answers.length + 1">{{ head }}</th>
        </tr>
        <tr v-for="row in rows" :key="row.label">
          <th scope="row">{{ row.label }}</th>
          <td v-for="(cell, i) in row.cells" :key="i">
            <CompareCell
              :cell="cell"
              :contrast="row.contrasts[i] ?? null"
              :unit="row.unit"
              @change="emit('change', i, $event)"
            />
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.compared thead th {
  text-align: left;
  padding: 4px 0 8px 18px;
  min-width: 150px;
  max-width: 230px;
  vertical-align: top;
  font-size: 0.93rem;
  line-height: 1.3;
}
.compared thead th > * {
  display: block;
}
.compared thead b {
  color: var(--ink);
}
.differs {
  color: var(--ink);
}
.care {
  color: var(--care);
}
.compared td {
  text-align: left;
  white-space: normal;
  vertical-align: top;
}
.compared tbody th {
  vertical-align: top;
}
.part {
  padding-top: 14px !important;
  font-weight: 600 !important;
  border-bottom: 1px solid var(--ink);
}
</style>
