<script setup lang="ts">
/** All measures of association with intervals and what each says; the one that suits leads. */
import { pValue } from '@/design/numbers'
import type { MeasureLine } from './measures'

defineProps<{ lines: MeasureLine[] }>()
const two = (value: number) => value.toFixed(2).replace('-', '−')
</script>

<template>
  <table class="plain">
    <thead>
      <tr>
        <th scope="col">Measure</th>
        <th scope="col">value</th>
        <th scope="col">interval</th>
        <th scope="col">p</th>
        <th scope="col" class="left">what it says</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="line in lines" :key="line.title" :class="{ leads: line.leads }">
        <th scope="row">{{ line.title }}</th>
        <td :title="String(line.value ?? 'not defined for this table')">
          {{ line.value === null ? '—' : two(line.value) }}
        </td>
        <td class="quiet">
          {{ line.ci ? `${two(line.ci[0])} to ${two(line.ci[1])}` : '' }}
        </td>
        <td>{{ line.p === null ? '' : pValue(line.p) }}</td>
        <td class="left quiet">{{ line.says }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.leads th,
.leads td:nth-child(2) {
  font-weight: 600;
}
</style>
