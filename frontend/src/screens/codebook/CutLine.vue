<script setup lang="ts">
/** A line between two bands, dragged or moved by the arrow keys. */
import { computed } from 'vue'

import { short } from '@/design/numbers'

const props = defineProps<{
  cut: number
  number: number
  range: { low: number; width: number }
}>()
const emit = defineEmits<{ take: [event: PointerEvent]; nudge: [by: number] }>()

const left = computed(() => `${(100 * (props.cut - props.range.low)) / props.range.width}%`)
</script>

<template>
  <button
    type="button"
    class="line"
    role="slider"
    :aria-label="`Cut ${number}`"
    :aria-valuenow="cut"
    :aria-valuemin="range.low"
    :aria-valuemax="range.low + range.width"
    :style="{ left }"
    @pointerdown.prevent="emit('take', $event)"
    @keydown.left.prevent="emit('nudge', -1)"
    @keydown.right.prevent="emit('nudge', 1)"
  >
    <span class="value">{{ short(cut) }}</span>
  </button>
</template>

<style scoped>
.line {
  position: absolute;
  top: -14px;
  bottom: 0;
  width: 13px;
  margin-left: -6px;
  cursor: ew-resize;
  background: linear-gradient(var(--more-ink), var(--more-ink)) center / 2px 100% no-repeat;
}
.value {
  position: absolute;
  top: -8px;
  left: 50%;
  transform: translateX(-50%);
  font-size: 0.8rem;
  background: var(--sheet);
  padding: 0 3px;
}
</style>
