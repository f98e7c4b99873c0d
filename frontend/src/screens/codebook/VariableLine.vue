<script setup lang="ts">
/** One variable in the list: its kind, name, picture and how many did not answer. */
import { computed } from 'vue'

import type { Entry } from '@/api/types'
import { count } from '@/design/numbers'
import KindMark from '@/parts/KindMark.vue'
import { titleOf } from '@/parts/kinds'
import Miniature from '@/parts/Miniature.vue'

const props = defineProps<{ entry: Entry; rows: number }>()
/** The name in the file where the title is another, and what the variable was made of. */
const below = computed(() => {
  const { variable, made_from, reason } = props.entry
  return [...(variable.label ? [variable.name] : []), ...(made_from.length ? [reason] : [])].join(
    ' · ',
  )
})
</script>

<template>
  <button class="line">
    <KindMark :variable="entry.variable" class="kind" />
    <span class="names"
      ><span class="title">{{ titleOf(entry.variable) }}</span
      ><small v-if="below" class="quiet">{{ below }}</small></span
    >
    <span class="mini"><Miniature :entry="entry" named /></span>
    <span class="missing" :class="{ much: entry.summary.n_missing > 0.05 * rows }">{{
      entry.summary.n_missing ? `${count(entry.summary.n_missing)} missing` : 'none missing'
    }}</span>
  </button>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 44px minmax(120px, 1fr) minmax(120px, 300px) 100px;
  gap: 14px;
  align-items: center;
  width: 100%;
  padding: 6px 12px;
  border-bottom: 1px solid var(--hairline);
  text-align: left;
}
.line:hover {
  background: color-mix(in srgb, var(--pine-soft) 45%, transparent);
}
.line[aria-current='true'] {
  background: var(--pine-soft);
  border-radius: 6px;
}
.names {
  display: grid;
  line-height: 1.3;
  min-width: 0;
}
.title,
.names small {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.missing {
  text-align: right;
  color: var(--quiet);
  font-size: 0.92rem;
}
.missing.much {
  color: var(--care);
}
@media (max-width: 820px) {
  .line {
    grid-template-columns: 40px 1fr 80px;
  }
  .mini {
    display: none;
  }
}
</style>
