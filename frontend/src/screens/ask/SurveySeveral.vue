<script setup lang="ts">
/** Several variables with the outcome in a weighted sample, a line each; each opens its own table. */
import type { Survey } from '@/api/types'
import { count, oneDecimal, pValue } from '@/design/numbers'
import { limitsOf } from './shareWords'

defineProps<{ several: Survey['several']; outcome: string }>()
defineEmits<{ choose: [variable: string] }>()
</script>

<template>
  <section class="several" :aria-label="`${outcome} with each variable`">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">{{ outcome }} with</th>
          <th scope="col">n, unweighted</th>
          <th scope="col">Rao–Scott F</th>
          <th scope="col">df</th>
          <th scope="col">p</th>
          <th scope="col" title="Holm: all of these tests are allowed for">p, all allowed for</th>
          <th scope="col">V</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(each, i) in several" :key="each.variable">
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
            <td>{{ each.test.f.toFixed(2) }}</td>
            <td>{{ oneDecimal(each.test.df1) }}, {{ oneDecimal(each.test.df2) }}</td>
            <td>{{ pValue(each.test.p) }}</td>
            <td>{{ pValue(each.p_holm ?? 1) }}</td>
            <td>
              {{ each.cramers_v?.toFixed(2) }}
              <small class="quiet">{{ limitsOf(each.cramers_v_ci) }}</small>
            </td>
          </template>
          <td v-else colspan="5" class="left quiet">{{ each.left_out ?? 'no test' }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.several {
  margin-bottom: 14px;
}
</style>
