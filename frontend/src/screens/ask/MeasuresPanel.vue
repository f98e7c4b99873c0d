<script setup lang="ts">
/** All measures of association with intervals and what each says; the one that suits leads. */
import { computed } from 'vue'

import { pValue } from '@/design/numbers'
import type { MeasureLine } from './measures'
import { fixed } from './shareWords'

const props = defineProps<{ lines: MeasureLine[] }>()
const hasP = computed(() => props.lines.some(({ p }) => p !== null))
const hasUnweighted = computed(() => props.lines.some(({ unweighted }) => unweighted !== undefined))
const two = (value: number) => fixed(value, 2)
</script>

<template>
  <table class="plain">
    <thead>
      <tr>
        <th scope="col">Measure</th>
        <th v-if="hasUnweighted" scope="col">unweighted</th>
        <th scope="col">value</th>
        <th scope="col">interval</th>
        <th v-if="hasP" scope="col">p</th>
        <th scope="col" class="left">what it says</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="line in lines" :key="line.title" :class="{ leads: line.leads }">
        <th scope="row">{{ line.title }}</th>
        <td v-if="hasUnweighted" class="quiet">
          {{ line.unweighted == null ? '' : two(line.unweighted) }}
        </td>
        <td class="value" :title="String(line.value ?? 'not defined for this table')">
          {{ line.value === null ? '—' : two(line.value) }}
        </td>
        <td class="quiet">
          {{ line.ci ? `${two(line.ci[0])} to ${two(line.ci[1])}` : '' }}
        </td>
        <td v-if="hasP">{{ line.p === null ? '' : pValue(line.p) }}</td>
        <td class="left quiet">{{ line.says }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.leads th,
.leads .value {
  font-weight: 600;
}
</style>
