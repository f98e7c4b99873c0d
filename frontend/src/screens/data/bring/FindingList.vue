<script setup lang="ts">
/** What was seen, with a sign for how it stands. */
import type { Finding } from '@/api/types'

defineProps<{ findings: readonly Finding[] }>()
const signs = { ok: '✓', care: '!', fail: '✕' }
const words = { ok: 'As it should be', care: 'Take care', fail: 'Wrong' }
</script>

<template>
  <ul v-if="findings.length" class="findings">
    <li v-for="finding in findings" :key="finding.text">
      <span class="sign" :class="finding.status" role="img" :aria-label="words[finding.status]">{{
        signs[finding.status]
      }}</span>
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
.sign {
  flex: none;
  width: 18px;
  height: 18px;
  margin-top: 1px;
  border-radius: 50%;
  font-size: 0.75rem;
  line-height: 18px;
  text-align: center;
  font-weight: 700;
}
.sign.ok {
  background: var(--pine-soft);
  color: var(--pine);
}
.sign.care {
  background: var(--care-soft);
  color: var(--care);
}
.sign.fail {
  background: var(--fail-soft);
  color: var(--fail);
}
</style>
