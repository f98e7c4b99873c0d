<script setup lang="ts">
/** A number in a sentence: it shows as the report writes it, and says when it has moved. */
import { NodeViewWrapper, nodeViewProps } from '@tiptap/vue-3'
import { computed } from 'vue'

import { usePageNow } from './page'

const props = defineProps(nodeViewProps)
const page = usePageNow()

const block = computed(() => {
  const at = props.getPos()
  if (at === undefined) return undefined
  return props.editor.state.doc.resolve(at).node(1)?.attrs.name as string | undefined
})
const shown = computed(() =>
  page.numberOf(block.value, String(props.node.attrs.question), String(props.node.attrs.key)),
)
const text = computed(() => shown.value?.text ?? '…')
const about = computed(() => {
  if (shown.value?.trouble) return shown.value.trouble
  const was = shown.value?.was
  const title = page.titleOf(String(props.node.attrs.question))
  return was ? `${title} It was ${was} when somebody last looked.` : title
})
</script>

<template>
  <NodeViewWrapper
    as="span"
    class="live"
    :class="{ gone: shown?.trouble, moved: shown?.was, chosen: selected }"
    role="img"
    :aria-label="`${text}, a live number. ${about}`"
    :title="about"
    >{{ text }}</NodeViewWrapper
  >
</template>

<style scoped>
.live {
  background: var(--pine-soft);
  border-bottom: 1.5px solid var(--pine);
  border-radius: 3px 3px 0 0;
  padding: 0 3px;
  /* The editor's own wrapper says otherwise on the element. */
  white-space: nowrap !important;
}
.live.moved {
  background: var(--care-soft);
  border-color: var(--care);
}
.live.gone {
  background: var(--fail-soft);
  border-color: var(--fail);
}
.live.chosen {
  outline: 2px solid var(--pine);
}
</style>
