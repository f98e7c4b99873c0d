<script setup lang="ts">
/** How wide the bins of a histogram are. */
import { inField } from '@/design/numbers'
import DraftInput from '@/parts/DraftInput.vue'
import { numberIn } from '@/parts/typed'
import { useOptions } from '../useAsking'

defineProps<{ width?: number; unit?: string }>()
const { set } = useOptions('distribution')

function take(text: string, putBack: () => void) {
  const width = numberIn(text)
  if (width !== null && width > 0) set({ bin_width: width })
  else putBack()
}
</script>

<template>
  <label
    >bins of
    <DraftInput
      class="line width"
      inputmode="decimal"
      :value="inField(width)"
      aria-label="Width of a bin"
      @take="take"
    />
    {{ unit }}</label
  >
</template>

<style scoped>
.width {
  width: 68px;
}
</style>
