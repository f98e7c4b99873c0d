<script setup lang="ts">
/** What another number per group would show, were the shares as seen here. */
import type { Schemas } from '@/api/types'
import { count, inField, points } from '@/design/numbers'
import NumberField from '@/parts/NumberField.vue'
import { useOptions } from '../useAsking'

defineProps<{ found: Schemas['PlanPanel'] }>()
const { set } = useOptions('proportions')
</script>

<template>
  <div class="choices">
    <NumberField
      :value="found.n_per_group"
      label="Number per group"
      :from="2"
      :to="10000000"
      class="medium"
      @change="set({ plan_n: Math.round($event) })"
    />
    <NumberField
      :value="Number(inField(100 * found.wished_half_width))"
      label="Wished half-width, points"
      :from="0.01"
      :to="49"
      class="medium"
      @change="set({ plan_width: $event / 100 })"
    />
  </div>
  <p>
    With {{ count(found.n_per_group) }} per group and shares as seen here ({{ found.label }}), a
    share would be known to ± {{ points(found.half_width) }} points<template
      v-if="found.power !== null"
      >, and the difference would be found with a power of {{ count(100 * found.power) }}%</template
    >. For ± {{ points(found.wished_half_width) }} points it takes {{ count(found.n_needed) }} per
    group.
  </p>
  <p class="quiet">
    Power worked out from the shares of the same data only repeats their p: plan with shares you
    would not want to miss.
  </p>
</template>
