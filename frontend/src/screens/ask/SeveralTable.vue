<script setup lang="ts">
/** Several explanatory variables with the outcome, a line each; each opens its own table. */
import { count, pValue } from '@/design/numbers'
import type { SeveralLine } from './several'
import { limitsOf } from './shareWords'

defineProps<{ lines: SeveralLine[]; outcome: string; statistic: string }>()
defineEmits<{ choose: [variable: string] }>()
</script>

<template>
  <section class="several" :aria-label="`${outcome} with each variable`">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">{{ outcome }} with</th>
          <th scope="col">n</th>
          <th scope="col">{{ statistic }}</th>
          <th scope="col">df</th>
          <th scope="col">p</th>
          <th scope="col" title="Holm: all of these tests are allowed for">p, all allowed for</th>
          <th scope="col">V</th>
          <th scope="col">interval</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(each, i) in lines" :key="each.variable" :class="{ shown: i === 0 }">
          <th scope="row">
            <button
              class="act"
              :aria-current="i === 0 ? 'true' : undefined"
              @click="$emit('choose', each.variable)"
            >
              {{ each.title }}
            </button>
          </th>
          <td>{{ count(each.n) }}</td>
          <template v-if="each.test">
            <td>{{ each.test.statistic }}</td>
            <td>{{ each.test.df }}</td>
            <td>{{ pValue(each.test.p) }}</td>
            <td>{{ pValue(each.pHolm ?? 1) }}</td>
            <td>{{ each.v?.toFixed(2) }}</td>
            <td class="quiet">{{ limitsOf(each.ci) }}</td>
          </template>
          <td v-else colspan="6" class="left quiet">{{ each.leftOut }}</td>
        </tr>
      </tbody>
    </table>
    <p class="quiet">The table below is the first one’s.</p>
  </section>
</template>

<style scoped>
.several {
  margin-bottom: 14px;
}
.shown th {
  font-weight: 600;
}
</style>
