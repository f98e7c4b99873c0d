<script setup lang="ts">
/** Several explanatory variables with the outcome, a line each; each opens its own table. */
import type { CrosstabResults } from '@/api/types'
import { count, pValue } from '@/design/numbers'

defineProps<{ several: CrosstabResults['several']; outcome: string }>()
defineEmits<{ choose: [variable: string] }>()
</script>

<template>
  <section class="several" :aria-label="`${outcome} with each variable`">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">{{ outcome }} with</th>
          <th scope="col">counted</th>
          <th scope="col">χ²</th>
          <th scope="col">df</th>
          <th scope="col">p</th>
          <th scope="col" title="Holm: all of these tests are allowed for">p, all allowed for</th>
          <th scope="col">V</th>
          <th scope="col">interval</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(each, i) in several" :key="each.variable" :class="{ shown: i === 0 }">
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
          <template v-if="each.chi_square && each.cramers_v_ci">
            <td>{{ each.chi_square.statistic.toFixed(1) }}</td>
            <td>{{ each.chi_square.df }}</td>
            <td>{{ pValue(each.chi_square.p) }}</td>
            <td>{{ pValue(each.p_holm ?? 1) }}</td>
            <td>{{ each.cramers_v?.toFixed(2) }}</td>
            <td class="quiet">
              {{ each.cramers_v_ci[0].toFixed(2) }} to {{ each.cramers_v_ci[1].toFixed(2) }}
            </td>
          </template>
          <td v-else colspan="6" class="left quiet">{{ each.left_out }}</td>
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
