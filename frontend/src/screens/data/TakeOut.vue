<script setup lang="ts">
/** The prepared data as a file to keep, in open formats. */
import { computed } from 'vue'

import type { DataSet, Study } from '@/api/types'

const props = defineProps<{ study: Study; dataset: DataSet }>()

const formats = {
  csv: 'CSV',
  xlsx: 'XLSX',
  parquet: 'Parquet',
  zip: 'Data Package',
  xml: 'DDI codebook',
}
const base = computed(() => `/api/studies/${props.study.id}/datasets/${props.dataset.id}/export`)
</script>

<template>
  <span class="out">
    <span class="quiet">Take out as</span>
    <a
      v-for="(words, kind) in formats"
      :key="kind"
      class="act"
      :href="`${base}/${kind}`"
      download
      >{{ words }}</a
    >
  </span>
</template>

<style scoped>
.out {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  margin-left: auto;
}
</style>
