<script setup lang="ts">
/** The head of a column on up to three lines, so that numbers need not be scrolled to. */
defineProps<{ words: string }>()
</script>

<template>
  <span class="head" :title="words">{{ words }}</span>
</template>

<style scoped>
.head {
  display: -webkit-inline-box;
  -webkit-line-clamp: 3;
  -webkit-box-orient: vertical;
  overflow: hidden;
  white-space: normal;
  vertical-align: bottom;
  max-width: 150px;
}
</style>
