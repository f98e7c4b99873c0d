<script setup lang="ts">
import { computed } from 'vue'

import type { Variable } from '@/api/types'
import { kindOf } from './kinds'

const props = defineProps<{ variable: Pick<Variable, 'kind' | 'categories'> }>()
const kind = computed(() => kindOf(props.variable))
</script>

<template>
  <span class="mark" :title="kind.words"
    ><span aria-hidden="true">{{ kind.mark }}</span
    ><span class="visually-hidden">{{ kind.words }}</span></span
  >
</template>

<style scoped>
.mark {
  color: var(--pine);
  font-weight: 600;
  font-size: 0.83rem;
  white-space: nowrap;
}
</style>
