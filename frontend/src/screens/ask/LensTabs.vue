<script setup lang="ts">
/** The lenses one question is answered through; arrows move between those that can answer. */
import { ref } from 'vue'

import type { Lens } from '@/api/types'

const props = defineProps<{ lens: Lens; refused: Partial<Record<Lens, string>> }>()
const emit = defineEmits<{ choose: [lens: Lens] }>()

const lenses: { lens: Lens; title: string }[] = [
  { lens: 'distribution', title: 'Distribution' },
  { lens: 'crosstab', title: 'Crosstab' },
  { lens: 'proportions', title: 'Proportions' },
  { lens: 'odds', title: 'Odds model' },
]
const place = ref<HTMLElement>()

function move(step: number) {
  const open = lenses.filter(({ lens }) => !props.refused[lens])
  const at = open.findIndex(({ lens }) => lens === props.lens)
  const next = open[(at + step + open.length) % open.length]
  if (!next) return
  emit('choose', next.lens)
  place.value?.querySelector<HTMLElement>(`[data-lens=${next.lens}]`)?.focus()
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
      :key="each.lens"
      role="tab"
      class="lens"
      :data-lens="each.lens"
      :aria-selected="each.lens === lens"
      :aria-disabled="!!refused[each.lens]"
      :title="refused[each.lens]"
      :tabindex="each.lens === lens ? 0 : -1"
      @click="!refused[each.lens] && emit('choose', each.lens)"
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
  cursor: not-allowed;
}
</style>
