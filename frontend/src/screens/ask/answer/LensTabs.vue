<script setup lang="ts">
/** The lenses one question is answered through; arrows move between those that can answer. */
import { ref } from 'vue'

import type { LensOffered } from '@/api/types'
import { isOf } from '../useAsking'

const props = defineProps<{ lens: string; lenses: readonly LensOffered[] }>()
const emit = defineEmits<{ choose: [lens: LensOffered] }>()

const place = ref<HTMLElement>()

function move(step: number) {
  const open = props.lenses.filter(({ why_not }) => !why_not)
  const at = open.findIndex((each) => isOf(each, props.lens))
  const next = open[(at + step + open.length) % open.length]
  if (!next) return
  emit('choose', next)
  place.value?.querySelector<HTMLElement>(`[data-lens=${next.name}]`)?.focus()
}
</script>

<template>
  <div
    ref="place"
    class="lenses"
    role="tablist"
    aria-label="Lens"
    @keydown.right.prevent="move(1)"
    @keydown.left.prevent="move(-1)"
  >
    <button
      v-for="each in lenses"
      :key="each.name"
      role="tab"
      class="lens"
      :data-lens="each.name"
      :aria-selected="isOf(each, lens)"
      :aria-disabled="!!each.why_not"
      :title="each.why_not ?? undefined"
      :tabindex="isOf(each, lens) ? 0 : -1"
      @click="emit('choose', each)"
    >
      {{ each.title }}
    </button>
  </div>
</template>

<style scoped>
.lenses {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 14px;
  border-bottom: 1px solid var(--hairline);
}
.lens {
  padding: 6px 15px 8px;
  border: 1px solid transparent;
  border-radius: 8px 8px 0 0;
  margin-bottom: -1px;
  color: var(--pine);
  font-weight: 600;
}
.lens[aria-selected='true'] {
  color: var(--ink);
  background: var(--sheet);
  border-color: var(--hairline) var(--hairline) var(--sheet);
}
.lens[aria-disabled='true'] {
  color: var(--quiet);
  font-weight: 400;
}
</style>
