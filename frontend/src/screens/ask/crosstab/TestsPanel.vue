<script setup lang="ts">
/** Every test of the table by its name. */
import type { Schemas } from '@/api/types'
import { three } from '@/design/numbers'
import TestTable from '../answer/TestTable.vue'

defineProps<{ found: Schemas['EveryTestPanel'] }>()
</script>

<template>
  <TestTable :tests="found.tests" />
  <p v-if="found.weighted?.rao_scott_pearson" class="quiet">
    Mean design effect of the cells
    {{ three(found.weighted.rao_scott_pearson.mean_generalised_deff) }}: what the corrections take
    off.
  </p>
</template>
