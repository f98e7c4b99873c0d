<script setup lang="ts">
/** A cell: what it shows, whether it stands out, and its count beside it. */
import { count } from '@/design/numbers'

defineProps<{
  /** "more-2", "more-1", "less-1", "less-2", or nothing. */
  mark: string
  n?: number
  isMarked?: boolean
  isLookedAt?: boolean
}>()
</script>

<template>
  <td :class="[mark, { marked: isMarked, looked: isLookedAt }]">
    <slot /><span class="sign" :class="mark.slice(0, 4)"
      ><template v-if="mark"
        ><span aria-hidden="true">{{ mark.startsWith('more') ? '▲' : '▼' }}</span
        ><span class="visually-hidden">{{
          mark.startsWith('more') ? 'more than expected' : 'fewer than expected'
        }}</span></template
      ></span
    ><small v-if="n !== undefined" class="n">{{ count(n) }}</small>
  </td>
</template>

<style scoped>
td {
  padding: 6px 8px;
  text-align: right;
  border-bottom: 1px solid var(--hairline);
  white-space: nowrap;
  cursor: default;
}
.sign {
  display: inline-block;
  width: 1.2em;
  font-size: 0.72rem;
  text-align: center;
  vertical-align: 1px;
}
.sign.more {
  color: var(--more-ink);
}
.sign.less {
  color: var(--less-ink);
}
.n {
  display: inline-block;
  min-width: 2.5em;
  color: var(--quiet);
}
.more-1 .n,
.more-2 .n,
.less-1 .n,
.less-2 .n {
  color: var(--ink);
}
.more-1 {
  background: var(--more-1);
}
.more-2 {
  background: var(--more-2);
}
.less-1 {
  background: var(--less-1);
}
.less-2 {
  background: var(--less-2);
}
.marked {
  outline: 2px solid var(--ink);
  outline-offset: -2px;
}
.looked {
  outline: 1px solid var(--quiet);
  outline-offset: -1px;
}
</style>
