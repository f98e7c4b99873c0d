<script setup lang="ts">
/** Tests by name, a line each. */
import type { NamedTest } from '@/api/types'
import { freedom, pEquals, statistic } from '@/design/numbers'

defineProps<{ tests: readonly NamedTest[] }>()

const capital = (name: string) => name[0]!.toUpperCase() + name.slice(1)
const dfs = ({ df, df2 }: NamedTest) =>
  [df, df2].flatMap((each) => (each == null ? [] : freedom(each))).join(', ')
</script>

<template>
  <table class="plain">
    <tbody>
      <tr v-for="(test, i) in tests" :key="i">
        <th scope="row">{{ capital(test.name) }}</th>
        <td :title="String(test.statistic ?? '')">
          {{ test.statistic === null ? '' : `${test.sign} ${statistic(test.statistic)}` }}
        </td>
        <td>{{ dfs(test) ? `df ${dfs(test)}` : '' }}</td>
        <td :title="String(test.p)">{{ pEquals(test.p) }}</td>
      </tr>
    </tbody>
  </table>
</template>
