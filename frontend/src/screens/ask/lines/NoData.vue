<script setup lang="ts">
/** Nothing can be asked yet: there are no data, or they wait to be looked at. */
import type { DataSet } from '@/api/types'

defineProps<{ drafts: readonly DataSet[] }>()
</script>

<template>
  <p v-if="drafts.length" class="serif empty">
    {{ drafts.map(({ name }) => `“${name}”`).join(' and ') }}
    {{ drafts.length === 1 ? 'waits' : 'wait' }} to be looked at: say how the file is to be read,
    then ask.
    <router-link :to="{ name: 'data' }">Look at the preview</router-link>
  </p>
  <p v-else class="serif empty">
    A question needs data to ask.
    <router-link :to="{ name: 'data' }">Bring a file</router-link>
  </p>
</template>

<style scoped>
.empty {
  padding: 40px;
  font-size: 1.15rem;
}
</style>
