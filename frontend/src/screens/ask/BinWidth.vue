<script setup lang="ts">
/** How wide the bins of a histogram are. */
import type { Question } from '@/api/types'
import DraftInput from '@/parts/DraftInput.vue'
import { numberIn } from '@/parts/typed'
import { withOptions } from './options'

const props = defineProps<{ question: Question; width?: number; unit?: string }>()
const emit = defineEmits<{ change: [question: Question] }>()

function take(text: string, putBack: () => void) {
  const width = numberIn(text)
  if (width !== null && width > 0) emit('change', withOptions(props.question, { bin_width: width }))
  else putBack()
}
</script>

<template>
  <label
    >bins of
    <DraftInput
      class="width"
      inputmode="decimal"
      :value="width"
      aria-label="Width of a bin"
      @take="take"
    />
    {{ unit }}</label
  >
</template>

<style scoped>
.width {
  font: inherit;
  color: var(--ink);
  width: 68px;
  text-align: right;
  background: none;
  border: 0;
  border-bottom: 1px solid var(--hairline);
}
</style>
