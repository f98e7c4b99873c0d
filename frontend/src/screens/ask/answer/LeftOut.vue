<script setup lang="ts">
/** What does not exist for a sample with a design, and why. */
import { computed } from 'vue'

import { useAsking } from '../useAsking'

const { answer } = useAsking()
const reasons = computed(() => [
  ...new Set(answer.value.sample ? answer.value.unavailable.map(({ reason }) => reason) : []),
])
</script>

<template>
  <details v-if="reasons.length" class="left-out">
    <summary><span class="act">What a design leaves out</span></summary>
    <ul>
      <li v-for="reason in reasons" :key="reason">{{ reason }}</li>
    </ul>
  </details>
</template>

<style scoped>
.left-out {
  border-top: 1px solid var(--hairline);
  padding: 8px 0 0;
}
summary {
  cursor: pointer;
}
ul {
  margin: 8px 0 0;
  padding-left: 16px;
  color: var(--quiet);
}
</style>
