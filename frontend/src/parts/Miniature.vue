<script setup lang="ts">
/** A variable's distribution small enough for a list: shares as a bar, or a histogram. */
import { computed } from 'vue'

import type { Entry } from '@/api/types'
import { count, short } from '@/design/numbers'

const props = defineProps<{ entry: Entry; named?: boolean }>()

const parts = computed(() => {
  const { summary, variable } = props.entry
  if (summary.kind !== 'categories' || !summary.counts.length) return []
  const total = summary.counts.reduce((sum, n) => sum + n, 0) || 1
  return summary.counts.map((n, i) => ({
    label: variable.categories[i]?.label ?? '',
    share: n / total,
    shade: i % 5,
  }))
})
const bars = computed(() => {
  const { summary } = props.entry
  if (summary.kind === 'categories' || !summary.counts.length) return []
  const highest = Math.max(...summary.counts)
  return summary.counts.map((n) => n / highest)
})
const words = computed(() => {
  const { summary } = props.entry
  if (summary.kind === 'categories') {
    if (!parts.value.length) return `${count(summary.different)} different texts`
    return parts.value
      .map((part) => `${part.label} ${Math.round(100 * part.share)}%`)
      .slice(0, 12)
      .join(', ')
  }
  if (summary.kind === 'dates')
    return summary.first ? `${summary.first} to ${summary.last}` : 'no dates'
  if (summary.low == null) return 'no numbers'
  return `${short(summary.low)} to ${short(summary.high!)}, mean ${short(summary.mean!)}`
})
</script>

<template>
  <span v-if="!parts.length && !bars.length" class="quiet words">{{ words }}</span>
  <span v-else class="miniature" role="img" :aria-label="words" :title="words">
    <span
      v-for="(part, i) in parts"
      :key="i"
      class="part"
      :class="[`shade-${part.shade}`]"
      :style="{ flexGrow: part.share }"
      ><template v-if="named && part.share > 0.08">{{ part.label }}</template></span
    >
    <span
      v-for="(bar, i) in bars"
      :key="`bar-${i}`"
      class="bar"
      :style="{ height: `${bar * 100}%` }"
    />
  </span>
</template>

<style scoped>
.miniature {
  display: flex;
  height: 18px;
  width: 100%;
  align-items: flex-end;
  gap: 1px;
  overflow: hidden;
}
.part {
  flex: 0 1 0;
  min-width: 1px;
  height: 100%;
  font-size: 0.73rem;
  line-height: 18px;
  padding: 0 0 0 5px;
  overflow: hidden;
  white-space: nowrap;
  color: var(--sheet);
}
.part:empty {
  padding: 0;
}
.part:first-child {
  border-radius: 3px 0 0 3px;
}
.part:last-child {
  border-radius: 0 3px 3px 0;
}
.shade-0 {
  background: var(--pine);
}
.shade-1 {
  background: color-mix(in srgb, var(--pine) 82%, var(--sheet));
}
.shade-2 {
  background: color-mix(in srgb, var(--pine) 45%, var(--sheet));
  color: var(--ink);
}
.shade-3 {
  background: color-mix(in srgb, var(--pine) 30%, var(--sheet));
  color: var(--ink);
}
.shade-4 {
  background: color-mix(in srgb, var(--pine) 16%, var(--sheet));
  color: var(--ink);
}
.bar {
  flex: 1;
  min-height: 1px;
  background: color-mix(in srgb, var(--pine) 55%, var(--sheet));
}
.words {
  font-size: 0.85rem;
}
</style>
