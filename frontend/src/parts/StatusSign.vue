<script setup lang="ts">
/** How something stands, as a sign with its word. */
type Status = 'ok' | 'care' | 'fail'

defineProps<{ status: Status; words: Record<Status, string> }>()
const signs = { ok: '✓', care: '!', fail: '✕' }
</script>

<template>
  <span class="sign" :class="status" role="img" :aria-label="words[status]">{{
    signs[status]
  }}</span>
</template>

<style scoped>
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
.ok {
  background: var(--pine-soft);
  color: var(--pine);
}
.care {
  background: var(--care-soft);
  color: var(--care);
}
.fail {
  background: var(--fail-soft);
  color: var(--fail);
}
</style>
