<script setup lang="ts">
/** "Table 1": the label that a block has now. */
import { NodeViewWrapper, nodeViewProps } from '@tiptap/vue-3'
import { computed } from 'vue'

import { usePageNow } from './page'

const props = defineProps(nodeViewProps)
const page = usePageNow()
const label = computed(() => page.labels.value.get(String(props.node.attrs.block)))
</script>

<template>
  <NodeViewWrapper
    as="span"
    class="reference"
    :class="{ gone: !label, chosen: selected }"
    role="img"
    :aria-label="label ?? 'a reference to nothing'"
    :title="label ? '' : 'What this referred to is not in the report any more.'"
    >{{ label ?? '[gone]' }}</NodeViewWrapper
  >
</template>

<style scoped>
.reference {
  color: var(--pine);
}
.gone {
  background: var(--fail-soft);
  color: inherit;
}
.chosen {
  outline: 2px solid var(--pine);
}
</style>
