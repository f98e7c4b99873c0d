<script setup lang="ts">
/** The shares of the answers in a group, as a small bar. */
import { percent } from '@/design/numbers'

const props = defineProps<{ shares: readonly number[]; labels: readonly string[] }>()
const told = () => props.shares.map((share, i) => `${props.labels[i]} ${percent(share)}`).join(', ')
/** The colours of the answers in the pictures. */
const shade = (i: number) => `rgb(var(--v-theme-ramp_${1 + (i % 6)}))`
</script>

<template>
  <span class="bar" role="img" :aria-label="told()" :title="told()">
    <span
      v-for="(share, i) in shares"
      :key="i"
      :style="{ flexGrow: share, background: shade(i) }"
    />
  </span>
</template>

<style scoped>
.bar {
  display: inline-flex;
  width: 84px;
  height: 12px;
  border: 1px solid var(--hairline);
  vertical-align: -1px;
}
.bar > span {
  flex-basis: 0;
}
</style>
