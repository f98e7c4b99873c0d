<script setup lang="ts">
/** A common answer at the head of its row: its colour and number, renamed or taken out. */
import DraftInput from '@/parts/DraftInput.vue'

defineProps<{ at: number; label: string; mayChange: boolean; mayGo: boolean }>()
const emit = defineEmits<{ rename: [label: string]; remove: [] }>()
</script>

<template>
  <span class="head">
    <span class="swatch" :class="`shade-${at % 5}`" aria-hidden="true" /><span class="quiet">{{
      at + 1
    }}</span>
    <DraftInput
      :value="label"
      class="common-answer"
      :aria-label="`Common answer ${at + 1}`"
      :disabled="!mayChange"
      @take="(text, putBack) => (text.trim() ? emit('rename', text.trim()) : putBack())"
    />
    <button
      v-if="mayGo"
      class="quiet gone"
      :aria-label="`Without ${label}`"
      @click="emit('remove')"
    >
      ×
    </button>
  </span>
</template>

<style scoped src="./shades.css"></style>
<style scoped>
.head {
  white-space: nowrap;
}
.swatch {
  display: inline-block;
  width: 9px;
  height: 9px;
  border-radius: 2px;
  margin-right: 6px;
}
.common-answer {
  width: 130px;
  border: 0;
  background: none;
  font: inherit;
  color: inherit;
  margin-left: 7px;
}
.common-answer:focus {
  outline: none;
  border-bottom: 1px solid var(--pine);
}
.gone {
  visibility: hidden;
}
.head:hover .gone,
.gone:focus-visible {
  visibility: visible;
}
</style>
