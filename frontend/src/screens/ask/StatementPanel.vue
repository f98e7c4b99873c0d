<script setup lang="ts">
/** The hypothesis statement line by line, to read and to copy. */
import { ref } from 'vue'

import { useNotices } from '@/notices'

const props = defineProps<{ lines: readonly { heading: string; text: string }[] }>()
const notices = useNotices()
const wasCopied = ref(false)

async function copy() {
  try {
    const text = props.lines.map(({ heading, text }) => `${heading}: ${text}`).join('\n')
    await navigator.clipboard.writeText(text)
    wasCopied.value = true
    setTimeout(() => (wasCopied.value = false), 2500)
  } catch {
    notices.complain('The browser did not allow copying. Select the text and copy it yourself.')
  }
}
</script>

<template>
  <dl class="statement">
    <template v-for="line in lines" :key="line.heading">
      <dt class="quiet">{{ line.heading }}</dt>
      <dd>{{ line.text }}</dd>
    </template>
  </dl>
  <button class="act" @click="copy">{{ wasCopied ? 'Copied' : 'Copy' }}</button>
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
