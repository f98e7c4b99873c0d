<script setup lang="ts">
/** A problem beside the thing it concerns. */
defineProps<{ error: Error | string | null | undefined }>()
</script>

<template>
  <p v-if="error" class="note" role="alert">{{ error instanceof Error ? error.message : error }}</p>
</template>

<style scoped>
.note {
  color: var(--fail);
  background: var(--fail-soft);
  border-radius: 6px;
  padding: 8px 12px;
  font-size: 0.95rem;
}
</style>
