<script setup lang="ts">
/** All measures of association with intervals and what each says; the one that suits leads. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { limits, pValue, two } from '@/design/numbers'

const props = defineProps<{ found: Schemas['MeasuresPanel'] }>()
const lines = computed(() => props.found.measures)
const hasP = computed(() => lines.value.some(({ p }) => p !== null))
const hasUnweighted = computed(() => lines.value.some(({ unweighted }) => unweighted != null))
</script>

<template>
  <div class="scroll">
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
        <tr v-for="line in lines" :key="line.key" :class="{ leads: line.leads }">
          <th scope="row">{{ line.title }}</th>
          <td v-if="hasUnweighted" class="quiet">
            {{ line.unweighted == null ? '' : two(line.unweighted) }}
          </td>
          <td class="value" :title="String(line.value ?? 'not defined for this table')">
            {{ two(line.value) }}
          </td>
          <td class="quiet">{{ limits(line.ci, two) }}</td>
          <td v-if="hasP">{{ line.p === null ? '' : pValue(line.p) }}</td>
          <td class="left quiet">{{ line.says }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.leads th,
.leads .value {
  font-weight: 600;
}
</style>
