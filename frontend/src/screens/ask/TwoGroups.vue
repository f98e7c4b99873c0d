<script setup lang="ts">
/** What only two groups and an event have: exact test and odds ratio, what exposure accounts for. */
import { computed } from 'vue'

import type { Crosstab } from '@/api/types'
import { percent, pValue, short } from '@/design/numbers'

const props = defineProps<{ table: Crosstab }>()

type MaybeInfinite = number | 'Infinity' | null | undefined
const ratio = (value: MaybeInfinite) =>
  value == null ? '—' : value === 'Infinity' ? '∞' : value.toFixed(2)
const share = (value: number | null | undefined) => (value == null ? '—' : percent(value))

const lines = computed(() => {
  const t = props.table
  const fisher = t.fisher_exact
  const conditional = t.odds_ratio_conditional
  const z = t.z_test_two_proportions
  const found: [string, string, string][] = []
  if (fisher)
    found.push(
      [
        'Fisher’s exact test',
        `p ${pValue(fisher.two_sided)}`,
        `below ${pValue(fisher.less)}, above ${pValue(fisher.greater)}`,
      ],
      [
        'the same, mid-p',
        `p ${pValue(fisher.mid_p_two_sided)}`,
        `below ${pValue(fisher.mid_p_less)}, above ${pValue(fisher.mid_p_greater)}`,
      ],
    )
  if (conditional)
    found.push([
      'Odds ratio, conditional',
      ratio(conditional.estimate as MaybeInfinite),
      `exact interval ${ratio(conditional.exact_ci[0])} to ${ratio(conditional.exact_ci[1] as MaybeInfinite)}`,
    ])
  if (z)
    found.push([
      'Difference of shares, pooled z',
      z.statistic.toFixed(2).replace('-', '−'),
      `p ${pValue(z.p_two_sided)}; below ${pValue(z.p_less)}, above ${pValue(z.p_greater)}`,
    ])
  const rd = t.risk_difference
  if (rd) {
    found.push([
      'Difference of shares',
      `${(100 * rd.estimate).toFixed(1).replace('-', '−')} points`,
      `${(100 * rd.newcombe_ci[0]).toFixed(1).replace('-', '−')} to ${(100 * rd.newcombe_ci[1]).toFixed(1).replace('-', '−')}`,
    ])
    const needed = t.number_needed
    found.push([
      'Number needed',
      needed === 'Infinity' || needed == null ? '—' : short(needed as number),
      'people per one event more or fewer',
    ])
    found.push([
      'Attributable among the exposed',
      share(t.attributable_fraction_exposed),
      'were the exposure the cause',
    ])
    found.push([
      'Attributable in all',
      share(t.population_attributable_fraction),
      'with exposure as common as here',
    ])
  }
  if (t.mcnemar)
    found.push([
      'If these are pairs: McNemar',
      `p ${pValue(t.mcnemar.exact_p)}`,
      `changed ${t.mcnemar.discordant[0]} one way, ${t.mcnemar.discordant[1]} the other; exact`,
    ])
  return found
})
</script>

<template>
  <table class="plain">
    <tbody>
      <tr v-for="[what, value, detail] in lines" :key="what">
        <th scope="row">{{ what }}</th>
        <td>{{ value.replace('p <', 'p <').replace(/^p (?=[0-9])/, 'p = ') }}</td>
        <td class="left quiet">{{ detail }}</td>
      </tr>
    </tbody>
  </table>
</template>
