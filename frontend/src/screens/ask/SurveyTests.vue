<script setup lang="ts">
/** Tests of a weighted sample, a line each. */
import { oneDecimal, pValue } from '@/design/numbers'
import type { Test } from './measures'

defineProps<{ tests: { what: string; test: Test }[] }>()
</script>

<template>
  <table class="plain tests">
    <tbody>
      <tr v-for="{ what, test } in tests" :key="what">
        <th scope="row">{{ what }}</th>
        <td>F {{ test.f.toFixed(2) }}</td>
        <td>df {{ oneDecimal(test.df1) }}, {{ oneDecimal(test.df2) }}</td>
        <td>p {{ pValue(test.p) }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.tests {
  margin-top: 14px;
}
</style>
