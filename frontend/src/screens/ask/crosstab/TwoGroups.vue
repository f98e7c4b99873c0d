<script setup lang="ts">
/** What only two groups and an event have: exact test and odds ratio, what exposure accounts for. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { limits, pEquals, percent, points, pValue, ratio, short, two } from '@/design/numbers'
import { useResults } from '../useAsking'

const props = defineProps<{ found: Schemas['TwoGroupsPanel'] }>()
const results = useResults<Schemas['CrosstabResults']>()

type Line = [what: string, value: string, detail: string]
const sides = (less: number, greater: number) => `below ${pValue(less)}, above ${pValue(greater)}`

const lines = computed(() => {
  const t = props.found
  const lines: Line[] = []
  if (t.fisher_exact) {
    const { two_sided, less, greater } = t.fisher_exact
    const { mid_p_two_sided, mid_p_less, mid_p_greater } = t.fisher_exact
    lines.push(
      ['Fisher’s exact test', pEquals(two_sided), sides(less, greater)],
      ['the same, mid-p', pEquals(mid_p_two_sided), sides(mid_p_less, mid_p_greater)],
    )
  }
  if (t.odds_ratio_conditional) {
    const { estimate, exact_ci } = t.odds_ratio_conditional
    const detail = `exact interval ${limits(exact_ci)}`
    lines.push(['Odds ratio, conditional', ratio(estimate), detail])
  }
  if (t.z_test_two_proportions) {
    const { statistic, p_two_sided, p_less, p_greater } = t.z_test_two_proportions
    const detail = `${pEquals(p_two_sided)}; ${sides(p_less, p_greater)}`
    lines.push(['Difference of shares, pooled z', two(statistic), detail])
  }
  const gap = results.value.whole.groups?.comparisons[0]?.risk_difference
  if (gap?.estimate != null && gap.estimate !== 'Infinity') {
    const detail = limits(gap.ci, points)
    lines.push(['Difference of shares', `${points(gap.estimate)} points`, detail])
  }
  const needed = t.number_needed
  if (needed != null)
    lines.push([
      'Number needed',
      needed === 'Infinity' ? '—' : short(needed),
      'people per one event more or fewer',
    ])
  if (t.attributable_fraction_exposed != null)
    lines.push([
      'Attributable among the exposed',
      percent(t.attributable_fraction_exposed),
      'were the exposure the cause',
    ])
  if (t.population_attributable_fraction != null)
    lines.push([
      'Attributable in all',
      percent(t.population_attributable_fraction),
      'with exposure as common as here',
    ])
  if (t.mcnemar) {
    const [one, other] = t.mcnemar.discordant
    const detail = `changed ${one} one way, ${other} the other; exact`
    lines.push(['If these are pairs: McNemar', pEquals(t.mcnemar.exact_p), detail])
  }
  return lines
})
</script>

<template>
  <table class="plain">
    <tbody>
      <tr v-for="[what, value, detail] in lines" :key="what">
        <th scope="row">{{ what }}</th>
        <td>{{ value }}</td>
        <td class="left quiet">{{ detail }}</td>
      </tr>
    </tbody>
  </table>
</template>
