<script setup lang="ts">
/** Two cells of a table: a weighted share with its limits, and its design effect. */
import type { Survey } from '@/api/types'
import { count, percent } from '@/design/numbers'
import { limitsOf } from './shareWords'

defineProps<{ share: Survey['shares'][number] }>()
</script>

<template>
  <td :title="`standard error ${share.se}`">
    <b>{{ percent(share.estimate) }}</b>{{ ' '
    }}<small class="quiet">{{ limitsOf(share.ci, 100, 1) }}</small>
  </td>
  <td
    :title="
      share.effective_sample_size === null
        ? ''
        : `as if ${count(share.effective_sample_size)} had been drawn at random`
    "
  >
    {{ share.deff === null ? '—' : share.deff.toFixed(2) }}
  </td>
</template>

<style scoped>
small {
  white-space: nowrap;
}
</style>
