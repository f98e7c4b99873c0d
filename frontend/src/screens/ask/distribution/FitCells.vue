<script setup lang="ts">
/** What was expected of an answer, and how far it is from that. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { oneDecimal } from '@/design/numbers'

const props = defineProps<{ fit: Schemas['GoodnessOfFit']; value: string }>()

const at = computed(() => props.fit.values.indexOf(props.value))
const expected = computed(
  () => props.fit.expected_counts?.[at.value] ?? 100 * props.fit.expected_shares[at.value]!,
)
const mark = computed(() => props.fit.marks[at.value] ?? '')
const isMore = computed(() => mark.value.includes('more'))
</script>

<template>
  <template v-if="at >= 0">
    <td>{{ oneDecimal(expected) }}</td>
    <td :class="mark && (isMore ? 'more' : 'less')">
      {{ mark && (isMore ? '▲' : '▼') }} {{ oneDecimal(fit.standardized_residuals[at]!) }}
    </td>
  </template>
  <td v-else colspan="2" class="quiet">none expected</td>
</template>

<style scoped>
.less {
  color: var(--less-ink);
}
.more {
  color: var(--more-ink);
}
</style>
