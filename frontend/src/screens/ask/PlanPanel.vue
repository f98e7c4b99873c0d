<script setup lang="ts">
/** What another number per group would show, were the shares as seen here. */
import type { ProportionsResults } from '@/api/types'
import { count } from '@/design/numbers'
import NumberField from '@/parts/NumberField.vue'

defineProps<{ plan: ProportionsResults['plan'] }>()
const emit = defineEmits<{ change: [changes: Record<string, unknown>] }>()
</script>

<template>
  <div class="choices">
    <NumberField
      :value="plan.n_per_group"
      label="Number per group"
      :from="2"
      :to="10000000"
      class="narrow"
      @change="emit('change', { plan_n: Math.round($event) })"
    />
    <NumberField
      :value="+(100 * plan.wished_half_width).toFixed(4)"
      label="Wished half-width, points"
      :from="0.01"
      :to="49"
      class="narrow"
      @change="emit('change', { plan_width: $event / 100 })"
    />
  </div>
  <p>
    With {{ count(plan.n_per_group) }} per group and shares as seen here ({{ plan.label }}), a share
    would be known to ± {{ (100 * plan.half_width).toFixed(1) }} points<template
      v-if="plan.power !== null"
      >, and the difference would be found with a power of
      {{ (100 * plan.power).toFixed(0) }}%</template
    >. For ± {{ (100 * plan.wished_half_width).toFixed(1) }} points it takes
    {{ count(plan.n_needed) }} per group.
  </p>
  <p class="quiet">
    Power worked out from the shares of the same data only repeats their p: plan with shares you
    would not want to miss.
  </p>
</template>

<style scoped>
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}
.narrow {
  flex: 0 0 210px;
}
</style>
