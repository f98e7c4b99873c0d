<script setup lang="ts">
/** What was seen, with a sign for how it stands. */
import type { Finding } from '@/api/types'
import StatusSign from '@/parts/StatusSign.vue'

defineProps<{ findings: readonly Finding[] }>()
const words = { ok: 'As it should be', care: 'Take care', fail: 'Wrong' }
</script>

<template>
  <ul v-if="findings.length" class="findings">
    <li v-for="finding in findings" :key="finding.text">
      <StatusSign :status="finding.status" :words="words" />
      <span>{{ finding.text }}</span>
    </li>
  </ul>
</template>

<style scoped>
.findings {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 8px;
  font-size: 0.95rem;
}
li {
  display: flex;
  gap: 9px;
}
</style>
