<script setup lang="ts">
/** What kind of answers a variable has. */
import type { Kind } from '@/api/types'
import { kinds } from '@/parts/kinds'

defineProps<{ kind: Kind; mayChange: boolean }>()
const emit = defineEmits<{ choose: [kind: Kind] }>()
</script>

<template>
  <div class="kinds" role="radiogroup" aria-label="Kind">
    <button
      v-for="({ mark, words }, each) in kinds"
      :key="each"
      class="kind"
      role="radio"
      :aria-checked="each === kind"
      :disabled="!mayChange"
      @click="emit('choose', each as Kind)"
    >
      {{ mark }} {{ words }}
    </button>
  </div>
</template>

<style scoped>
.kinds {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
}
.kind {
  padding: 3px 0;
  border-bottom: 2px solid transparent;
  color: var(--quiet);
}
.kind[aria-checked='true'] {
  color: var(--ink);
  font-weight: 600;
  border-color: var(--pine);
}
</style>
