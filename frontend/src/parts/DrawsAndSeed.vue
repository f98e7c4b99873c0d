<script setup lang="ts">
/** How often something is drawn, and the seed that gives the same draws again. */
import NumberField from './NumberField.vue'

defineProps<{ label: string; draws: number; from: number; to: number; seed: number }>()
const emit = defineEmits<{ change: [changes: { draws?: number; seed?: number }] }>()
</script>

<template>
  <NumberField
    :value="draws"
    :label="label"
    :from="from"
    :to="to"
    class="narrow"
    @change="emit('change', { draws: Math.round($event) })"
  />
  <NumberField
    :value="seed"
    label="Seed"
    :from="0"
    :to="4294967295"
    class="narrow"
    @change="emit('change', { seed: Math.round($event) })"
  />
</template>

<style scoped>
.narrow {
  flex: 0 0 130px;
}
</style>
