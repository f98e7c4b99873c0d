<script setup lang="ts">
/** A part of an answer that is opened when wanted; its content is made only then. */
import { ref, watch } from 'vue'

const props = defineProps<{ heading: string; hint?: string; startsOpen?: boolean }>()
const isOpen = ref(props.startsOpen ?? false)
watch(
  () => props.startsOpen,
  (opens) => {
    if (opens) isOpen.value = true
  },
)
</script>

<template>
  <details
    class="deeper"
    :open="isOpen"
    @toggle="isOpen = ($event.target as HTMLDetailsElement).open"
  >
    <summary>
      <span class="act">{{ heading }}</span> <span v-if="hint" class="quiet">{{ hint }}</span>
    </summary>
    <div v-if="isOpen" class="inside"><slot /></div>
  </details>
</template>

<style scoped>
.deeper {
  border-top: 1px solid var(--hairline);
  padding: 8px 0;
}
.deeper:first-of-type {
  margin-top: 12px;
}
summary {
  cursor: pointer;
}
.inside {
  padding: 10px 0 6px;
}
</style>
