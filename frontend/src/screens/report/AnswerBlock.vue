<script setup lang="ts">
/** A table, picture or sentence of an answer on the page, with its caption to write in. */
import { NodeViewWrapper, nodeViewProps } from '@tiptap/vue-3'
import { computed } from 'vue'

import FigureView from '@/parts/FigureView.vue'
import PrintedTable from '@/parts/PrintedTable.vue'
import BlockChoices from './BlockChoices.vue'
import type { Block } from './document'
import { usePageNow, type Part } from './page'

const props = defineProps(nodeViewProps)
const page = usePageNow()

const block = computed(() => props.node.attrs.block as Exclude<Block, { content: unknown }>)
const name = computed(() => String(props.node.attrs.name))
const parts = computed(() => page.parts.value.get(name.value) ?? [])
const hasMoved = computed(() => !!page.moved.value[name.value])
const canBeChanged = computed(() => !page.isReader.value)

/** With how to read the picture. */
const captionOf = ({ caption, reads }: Part) =>
  reads ? `${caption.replace(/\.$/, '')}. ${reads}` : caption

function change(changes: Record<string, unknown>) {
  props.updateAttributes({ block: { ...block.value, ...changes } })
}
</script>

<template>
  <NodeViewWrapper
    class="answer"
    :class="{ chosen: selected, moved: hasMoved }"
    contenteditable="false"
    :data-name="name"
  >
    <p v-if="hasMoved" class="was">
      This has changed since somebody last looked.
      <button v-if="canBeChanged" class="act" @click="page.look([name])">Looked at</button>
    </p>
    <p v-if="!parts.length" class="quiet" role="status">Asking the question</p>
    <template v-for="(part, i) in parts" :key="i">
      <p v-if="part.trouble" class="trouble" role="note">{{ part.trouble }}</p>
      <PrintedTable
        v-else-if="part.table"
        :table="part.table"
        :label="part.label"
        :caption="part.caption"
      />
      <figure v-else-if="part.picture">
        <FigureView
          :spec="part.picture"
          :label="part.description"
          :decimal-comma="page.decimalComma.value"
        />
        <figcaption>
          <b>{{ part.label }}.</b> {{ captionOf(part) }}
        </figcaption>
      </figure>
      <p v-for="(line, j) in part.lines" v-else :key="j" class="lead">
        <component :is="run.bold ? 'strong' : 'span'" v-for="(run, k) in line" :key="k">{{
          run.text
        }}</component>
      </p>
    </template>
    <BlockChoices
      v-if="selected && canBeChanged"
      :block="block"
      @change="change"
      @remove="props.deleteNode()"
    />
  </NodeViewWrapper>
</template>

<style scoped>
.answer {
  margin: 14px 0;
  border-radius: 4px;
  cursor: default;
}
.answer.chosen {
  outline: 2px solid var(--pine);
  outline-offset: 6px;
}
.moved {
  border-left: 3px solid var(--care);
  padding-left: 10px;
}
.was {
  font-family: var(--sans);
  font-size: 0.9rem;
  color: var(--care);
}
.trouble {
  background: var(--fail-soft);
  padding: 8px 10px;
  font-family: var(--sans);
}
figure {
  margin: 0;
}
figcaption {
  color: var(--quiet);
}
</style>
