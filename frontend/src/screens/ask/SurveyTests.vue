<script setup lang="ts">
/** Tests of a weighted sample, a line each. */
import type { Survey } from '@/api/types'
import { oneDecimal, pValue } from '@/design/numbers'

defineProps<{ tests: { what: string; test: NonNullable<Survey['goodness_of_fit']> }[] }>()
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
