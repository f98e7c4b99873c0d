<script setup lang="ts">
/** What can be done with the words one writes; each also by keys. */
import type { Editor } from '@tiptap/core'
import { onBeforeUnmount, onMounted, ref } from 'vue'

const props = defineProps<{ editor: Editor }>()
const emit = defineEmits<{ ask: [] }>()

/** The editor tells when its state changes. */
const turn = ref(0)
const changed = () => void (turn.value += 1)
onMounted(() => props.editor.on('transaction', changed))
onBeforeUnmount(() => props.editor.off('transaction', changed))

const is = (name: string, attributes = {}) =>
  turn.value >= 0 && props.editor.isActive(name, attributes)
const can = (what: 'undo' | 'redo') => turn.value >= 0 && props.editor.can()[what]()
const run = () => props.editor.chain().focus()

const kinds = [
  { title: 'Text', is: () => is('paragraph'), run: () => run().setParagraph().run() },
  ...([1, 2, 3] as const).map((level) => ({
    title: `Heading ${level}`,
    is: () => is('heading', { level }),
    run: () => run().setHeading({ level }).run(),
  })),
]
const kind = () => kinds.findIndex((each) => each.is())
</script>

<template>
  <div class="tools" role="toolbar" aria-label="Writing">
    <select
      class="line"
      aria-label="Kind of paragraph"
      :value="kind()"
      @change="kinds[Number(($event.target as HTMLSelectElement).value)]?.run()"
    >
      <option v-if="kind() < 0" :value="-1" disabled>–</option>
      <option v-for="(each, i) in kinds" :key="each.title" :value="i">{{ each.title }}</option>
    </select>
    <button
      :aria-pressed="is('bold')"
      title="Bold (Ctrl B)"
      aria-label="Bold"
      @click="run().toggleBold().run()"
    >
      <b>B</b>
    </button>
    <button
      :aria-pressed="is('italic')"
      title="Italic (Ctrl I)"
      aria-label="Italic"
      @click="run().toggleItalic().run()"
    >
      <i>I</i>
    </button>
    <button
      :aria-pressed="is('bulletList')"
      title="List (- and a blank)"
      @click="run().toggleBulletList().run()"
    >
      List
    </button>
    <button
      :aria-pressed="is('orderedList')"
      title="Numbered list (1. and a blank)"
      @click="run().toggleOrderedList().run()"
    >
      Numbered
    </button>
    <button class="act" title="Or type / or =" @mousedown.prevent @click="emit('ask')">
      Number or reference <kbd>/</kbd>
    </button>
    <span class="apart">
      <button :disabled="!can('undo')" title="Undo (Ctrl Z)" @click="run().undo().run()">
        Undo
      </button>
      <button :disabled="!can('redo')" title="Redo (Ctrl Shift Z)" @click="run().redo().run()">
        Redo
      </button>
    </span>
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
  font-size: 0.93rem;
}
.tools .line {
  text-align: left;
}
.tools button:not(.act) {
  padding: 2px 6px;
  border-radius: 4px;
}
.tools button[aria-pressed='true'] {
  background: var(--pine-soft);
}
.tools button:disabled {
  color: var(--quiet);
  opacity: 0.6;
}
.apart {
  margin-left: auto;
  display: flex;
  gap: 6px;
}
</style>
