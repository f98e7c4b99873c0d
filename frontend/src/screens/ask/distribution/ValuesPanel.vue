<script setup lang="ts">
/** All numbers with their counts, one by one or in ranges. */
import type { Schemas } from '@/api/types'
import { useOptions } from '../useAsking'
import FrequencyTable from './FrequencyTable.vue'
import { useOutcome } from './useOutcome'

defineProps<{ found: Schemas['ValuesPanel'] }>()

const outcome = useOutcome()
const { set } = useOptions('distribution')
</script>

<template>
  <FrequencyTable :variable="outcome" :rows="found.table" />
  <button v-if="found.grouped" class="act" @click="set({ all_values: true })">
    List every number
  </button>
</template>
