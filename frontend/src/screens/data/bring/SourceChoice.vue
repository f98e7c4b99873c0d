<script setup lang="ts">
/** Which data sets are brought together: one, two in their order, or several. */
import type { DataSet } from '@/api/types'
import { plural } from '@/design/numbers'

defineProps<{ needed: number; datasets: readonly DataSet[]; chosen: readonly string[] }>()
const emit = defineEmits<{ turn: [id: string] }>()
const headings: Record<number, string> = {
  0: 'These under each other',
  1: 'Of this one',
  2: 'To each row of the first, what the second knows',
}
</script>

<template>
  <section aria-label="Of which data sets">
    <h2 class="overline">{{ headings[needed] }}</h2>
    <ul class="sources">
      <li v-for="dataset in datasets" :key="dataset.id">
        <label>
          <input
            :type="needed === 1 ? 'radio' : 'checkbox'"
            :checked="chosen.includes(dataset.id)"
            @change="emit('turn', dataset.id)"
          />
          <span v-if="needed === 2 && chosen.includes(dataset.id)" class="place">{{
            chosen.indexOf(dataset.id) + 1
          }}</span>
          {{ dataset.name }}
          <span class="quiet"
            >{{ plural(dataset.rows, dataset.noun_one, dataset.noun_many) }},
            {{ dataset.cases.rows === 'several' ? 'several rows per case' : 'one row per case' }}
          </span>
        </label>
      </li>
    </ul>
    <p v-if="!datasets.length" class="quiet">This study has no data yet.</p>
  </section>
</template>

<style scoped>
.sources {
  list-style: none;
  margin: 0;
  padding: 0;
  columns: 2 380px;
}
.sources li {
  padding: 2px 0;
  break-inside: avoid;
}
.sources label {
  display: flex;
  gap: 9px;
  align-items: baseline;
}
.sources input {
  accent-color: var(--pine);
}
.place {
  color: var(--pine);
  font-weight: 600;
}
</style>
