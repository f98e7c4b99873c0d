<script setup lang="ts">
/** What the cells show, chosen by what it means, and exchanging rows and columns. */
import { mdiSwapHorizontal } from '@mdi/js'

import type { View } from './views'

defineProps<{ views: readonly View[]; shown: string }>()
const emit = defineEmits<{ choose: [show: string]; transpose: [] }>()
</script>

<template>
  <div class="show" role="radiogroup" aria-label="Show in the cells">
    <button
      v-for="each in views"
      :key="each.show"
      role="radio"
      :aria-checked="each.show === shown"
      class="choice"
      @click="emit('choose', each.show)"
    >
      {{ each.words }}
    </button>
    <button
      class="act exchange"
      title="Exchange rows and columns (x)"
      aria-label="Exchange rows and columns"
      @click="emit('transpose')"
    >
      <v-icon :icon="mdiSwapHorizontal" size="16" />
    </button>
  </div>
</template>

<style scoped>
.show {
  flex: 1 1 100%;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  font-size: 0.87rem;
}
.choice {
  color: var(--quiet);
  border-bottom: 2px solid transparent;
  max-width: 220px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.choice[aria-checked='true'] {
  color: var(--ink);
  font-weight: 600;
  border-color: var(--pine);
}
.exchange {
  margin-left: auto;
}
</style>
