<script setup lang="ts">
/** The hypothesis statement line by line, to read and to copy. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { useCopied } from '@/parts/useCopied'

const props = defineProps<{ found: Schemas['StatementPanel'] }>()
const { wasCopied, copy } = useCopied()
const text = computed(() =>
  props.found.lines.map(({ heading, text }) => `${heading}: ${text}`).join('\n'),
)
</script>

<template>
  <dl class="statement">
    <template v-for="line in found.lines" :key="line.heading">
      <dt class="quiet">{{ line.heading }}</dt>
      <dd>{{ line.text }}</dd>
    </template>
  </dl>
  <button class="act" @click="copy(text)">{{ wasCopied ? 'Copied' : 'Copy' }}</button>
</template>

<style scoped>
.statement {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 4px 18px;
  margin: 0 0 8px;
}
dd {
  margin: 0;
}
</style>
