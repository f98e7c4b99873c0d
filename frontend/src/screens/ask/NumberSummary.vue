<script setup lang="ts">
/** A numeric variable in its usual numbers. */
import { computed } from 'vue'

import type { Distribution } from '@/api/types'
import { count, short } from '@/design/numbers'

const props = defineProps<{ variable: Distribution }>()

const items = computed(() => {
  const s = props.variable.summary
  if (!s) return []
  const or = (value: number | null) => (value == null ? 'not defined' : short(value))
  return [
    ['n', count(props.variable.n_answered)],
    ['mean', short(s.mean)],
    ['standard deviation', or(s.sd)],
    ['median', short(s.median)],
    ['quartiles', `${short(s.q1)} and ${short(s.q3)}`],
    ['range', `${short(s.min)} to ${short(s.max)}`],
    ['skewness', or(s.skewness_adjusted)],
    ['excess kurtosis', or(s.excess_kurtosis_adjusted)],
  ]
})
</script>

<template>
  <dl class="numbers">
    <div v-for="[what, value] in items" :key="what">
      <dt>{{ what }}</dt>
      <dd>{{ value }}</dd>
    </div>
  </dl>
</template>

<style scoped>
.numbers {
  margin: 0;
  min-width: 230px;
}
.numbers div {
  display: flex;
  justify-content: space-between;
  gap: 20px;
  padding: 3px 0;
  border-bottom: 1px solid var(--hairline);
}
dt {
  color: var(--quiet);
}
dd {
  margin: 0;
  text-align: right;
}
</style>
