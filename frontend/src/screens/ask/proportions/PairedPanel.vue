<script setup lang="ts">
/** The same people asked twice: how many changed, and the difference of the two shares. */
import type { Schemas } from '@/api/types'
import { count, limits, percent, pEquals, points, pValue } from '@/design/numbers'
import { useAsking, useResults } from '../useAsking'

defineProps<{ found: Schemas['PairedPanel'] }>()
const { titles } = useAsking()
const results = useResults<Schemas['ProportionsResults']>()
</script>

<template>
  <p>
    {{ titles.rows }} first, then the outcome: “{{ results.whole.event_label }}”
    {{ percent(found.first_share) }} and then {{ percent(found.second_share) }}, a difference of
    <b>{{ points(found.difference) }} points</b> ({{ limits(found.ci, points) }}, Wald’s limits).
    {{ count(found.mcnemar.discordant[0]!) }} changed one way,
    {{ count(found.mcnemar.discordant[1]!) }} the other; McNemar’s exact test
    {{ pEquals(found.mcnemar.exact_p)
    }}<template v-if="found.mcnemar.mid_p !== null"
      >, mid-p {{ pValue(found.mcnemar.mid_p) }}</template
    >.
  </p>
</template>
