<script setup lang="ts">
/** The coefficients of a model with their errors, and its equation. */
import type { OddsResults, SurveyModel } from '@/api/types'
import { pValue } from '@/design/numbers'
import { fixed, limitsOf } from './shareWords'

type Coefficient =
  OddsResults['whole']['coefficients'][number] | SurveyModel['coefficients'][number]

defineProps<{ coefficients: readonly Coefficient[]; equation: string }>()

const ratioToError = (row: Coefficient) => ('z' in row ? row.z : row.t)
</script>

<template>
  <div class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">Coefficient</th>
          <th scope="col">log odds</th>
          <th scope="col">standard error</th>
          <th scope="col">{{ coefficients.some((row) => 'z' in row) ? 'z' : 't' }}</th>
          <th scope="col">p</th>
          <th scope="col">odds ratio</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in coefficients" :key="row.label">
          <th scope="row">{{ row.label }}</th>
          <td :title="String(row.log_odds)">{{ fixed(row.log_odds, 4) }}</td>
          <td :title="String(row.se)">{{ row.se.toFixed(4) }}</td>
          <td>{{ fixed(ratioToError(row), 2) }}</td>
          <td>{{ pValue(row.p) }}</td>
          <td>{{ limitsOf(row.ci) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <p class="equation">{{ equation }}</p>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
.equation {
  margin-top: 10px;
  overflow-wrap: anywhere;
}
</style>
