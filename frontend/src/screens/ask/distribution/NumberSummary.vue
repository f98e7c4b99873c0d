<script setup lang="ts">
/** A numeric variable in its usual numbers; under a design all but n are weighted. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { count, inField, limits, short, two } from '@/design/numbers'
import { useAsking } from '../useAsking'

const props = defineProps<{ variable: Schemas['VariableDistribution'] }>()
const { answer } = useAsking()

const items = computed(() => {
  const s = props.variable.summary
  if (!s) return []
  const or = (value: number | null | undefined) => (value == null ? 'not defined' : short(value))
  const level = `${inField(100 * answer.value.question.confidence)}%`
  const found: [string, string][] = [
    [s.weighted ? 'sampled' : 'n', count(props.variable.n_answered)],
    ['mean', short(s.mean)],
    [`its ${level} interval`, s.mean_ci ? limits(s.mean_ci, short) : 'none'],
    ['standard deviation', or(s.sd)],
    ['median', short(s.median)],
    ['quartiles', `${short(s.q1)} and ${short(s.q3)}`],
    ['range', `${short(s.min)} to ${short(s.max)}`],
  ]
  if (s.weighted)
    return [
      ...found,
      ['unweighted mean', short(s.weighted.unweighted)],
      ['design effect of the mean', s.weighted.deff == null ? 'none' : two(s.weighted.deff)],
    ]
  return [
    ...found,
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
