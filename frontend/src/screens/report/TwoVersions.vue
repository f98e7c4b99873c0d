<script setup lang="ts">
/** Two people changed the same block: both versions stand here until one is chosen. */
import type { Schemas } from '@/api/types'
import type { Block } from './document'

defineProps<{ theirs: Schemas['BlockOut'][] }>()
const emit = defineEmits<{ settle: [theirs: Schemas['BlockOut'], keeps: boolean] }>()

function words(block: Block): string {
  const lines =
    block.type === 'list'
      ? block.items
      : block.type === 'heading' || block.type === 'paragraph'
        ? [block.content]
        : []
  const text = lines
    .flat()
    .map((part) => (part.type === 'text' ? part.text : part.type === 'number' ? '…' : ' '))
    .join('')
  return text || 'something other than text'
}
</script>

<template>
  <section v-for="each in theirs" :key="each.name" class="two" role="alert">
    <p>
      {{ each.changed_by ?? 'Somebody' }} has changed this meanwhile:
      <q class="serif">{{ words(each.block) }}</q>
    </p>
    <p class="acts">
      <button class="act" @click="emit('settle', each, true)">Keep mine</button>
      <button class="act" @click="emit('settle', each, false)">Take theirs</button>
    </p>
  </section>
</template>

<style scoped>
.two {
  background: var(--care-soft);
  border-radius: 4px;
  padding: 8px 12px;
}
.acts {
  display: flex;
  gap: 16px;
}
</style>
