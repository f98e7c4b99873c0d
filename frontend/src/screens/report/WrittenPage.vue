<script setup lang="ts">
/** The page one writes on. "/" or "=" asks for a number, which stays tied to its answer. */
import { Editor, EditorContent } from '@tiptap/vue-3'
import StarterKit from '@tiptap/starter-kit'
import { nextTick, onBeforeUnmount, ref, shallowRef, watch } from 'vue'

import type { Schemas } from '@/api/types'
import { blocksOf, documentOf, newName, type Block, type Named } from './document'
import { Answer, Asks, Live, Names, Reference } from './nodes'
import NumberPicker from './NumberPicker.vue'
import { usePageNow } from './page'
import { Moved } from './moved'
import { FROM_ELSEWHERE, show } from './show'
import WritingTools from './WritingTools.vue'

const props = defineProps<{
  blocks: readonly Named[]
  isReader: boolean
  questions: Schemas['QuestionOut'][]
}>()
const emit = defineEmits<{ written: [blocks: Named[]] }>()
const page = usePageNow()

/** What was typed to ask for a number, and where on the screen. */
const asked = ref<{ typed: string; top: number; left: number }>()

const editor = shallowRef(
  new Editor({
    injectCSS: false,
    editable: !props.isReader,
    extensions: [
      StarterKit.configure({
        heading: { levels: [1, 2, 3] },
        blockquote: false,
        code: false,
        codeBlock: false,
        horizontalRule: false,
        strike: false,
        underline: false,
        link: false,
      }),
      Live,
      Reference,
      Answer,
      Names,
      Moved.configure({ page }),
      Asks.configure({ open: ask }),
    ],
    content: documentOf(props.blocks),
    editorProps: {
      attributes: { 'aria-label': 'Report', role: 'textbox', 'aria-multiline': 'true' },
    },
    onUpdate: ({ editor: changed, transaction }) => {
      if (!transaction.getMeta(FROM_ELSEWHERE)) emit('written', blocksOf(changed.getJSON()))
    },
  }),
)
onBeforeUnmount(() => editor.value.destroy())
watch(
  () => props.blocks,
  (blocks) => show(editor.value, blocks),
)
watch(
  () => props.isReader,
  (isReader) => editor.value.setEditable(!isReader),
)
// Marks are drawn anew with what has moved.
watch(page.moved, () => editor.value.view.dispatch(editor.value.state.tr.setMeta('moved', true)))

function ask(typed: string) {
  const { view, state } = editor.value
  const { bottom, left } = view.coordsAtPos(state.selection.from)
  const room = window.innerHeight - 340
  asked.value = {
    typed,
    top: Math.max(60, Math.min(bottom + 6, room)),
    left: Math.min(left, window.innerWidth - 400),
  }
}
/** The caret is on the page at once: the editor's own way waits for the next frame, and what is typed until
then is lost. */
function onPage() {
  editor.value.view.focus()
  return editor.value.chain()
}
function takeNumber(question: string, key: string) {
  asked.value = undefined
  onPage().insertContent({ type: 'live', attrs: { question, key } }).run()
}
function takeReference(block: string) {
  asked.value = undefined
  onPage().insertContent({ type: 'reference', attrs: { block } }).run()
}
/** What was typed stays; the caret comes back, unless somebody clicked elsewhere. */
async function leave(comesBack: boolean) {
  if (!asked.value) return
  const { typed } = asked.value
  asked.value = undefined
  await nextTick()
  const chain = comesBack ? onPage() : editor.value.chain()
  if (typed) chain.insertContent(typed)
  chain.run()
}

/** After the block the caret is in. */
function put(blocks: readonly Block[]) {
  const { state } = editor.value
  const { $to } = state.selection
  const at = $to.depth ? $to.after(1) : $to.pos
  const named = blocks.map((block) => ({ name: newName(), block }))
  const { content } = documentOf(named)
  const before = $to.depth ? $to.node(1) : null
  // An empty paragraph makes way.
  const makesWay = before?.type.name === 'paragraph' && !before.content.size
  const place = makesWay ? { from: $to.before(1), to: at } : at
  onPage().insertContentAt(place, content!).run()
  return named.map(({ name }) => name)
}

/** Paragraphs that were made are written anew where they stand. */
function makeAnew(paragraphs: readonly Block[]) {
  const now = blocksOf(editor.value.getJSON())
  const at = now.findIndex(({ block }) => block.type === 'paragraph' && block.made)
  if (at < 0) return put(paragraphs)
  const kept = now.filter(({ block }) => block.type !== 'paragraph' || !block.made)
  const made = paragraphs.map((block) => ({ name: newName(), block }))
  const { content } = documentOf([...kept.slice(0, at), ...made, ...kept.slice(at)])
  const fresh = editor.value.schema.nodeFromJSON({ type: 'doc', content })
  const { tr, doc } = editor.value.state
  editor.value.view.dispatch(tr.replaceWith(0, doc.content.size, fresh.content))
  return made.map(({ name }) => name)
}

function goTo(name: string) {
  editor.value.state.doc.forEach((node, at) => {
    if (node.attrs.name !== name) return
    const caret = node.isTextblock ? at + 1 : at
    onPage().setTextSelection(caret).run()
    const element = editor.value.view.nodeDOM(at) as HTMLElement | null
    element?.scrollIntoView({ block: 'center' })
  })
}
defineExpose({ put, makeAnew, goTo, takeNumber })
</script>

<template>
  <div class="written">
    <WritingTools v-if="!isReader" :editor="editor" @ask="ask('')" />
    <EditorContent :editor="editor" class="sheet serif" />
    <NumberPicker
      v-if="asked"
      :questions="questions"
      :style="{ top: `${asked.top}px`, left: `${asked.left}px` }"
      @take="takeNumber"
      @refer="takeReference"
      @leave="leave"
    />
  </div>
</template>

<style scoped>
.written {
  display: grid;
  gap: 8px;
  align-content: start;
}
.sheet {
  background: var(--sheet);
  border: 1px solid var(--hairline);
  border-radius: 4px;
  box-shadow: 0 1px 2px rgb(0 0 0 / 0.05);
}
.sheet :deep(.ProseMirror) {
  min-height: 60vh;
  padding: 40px min(56px, 6%);
  outline: none;
  white-space: pre-wrap;
  word-wrap: break-word;
  overflow-wrap: anywhere;
  font-size: 1.12rem;
  line-height: 1.6;
}
.sheet :deep(.ProseMirror > * + *) {
  margin-top: 0.7em;
}
.sheet :deep(:is(h1, h2, h3)) {
  line-height: 1.25;
}
.sheet :deep(h1) {
  font-size: 1.5rem;
}
.sheet :deep(h2) {
  font-size: 1.25rem;
}
.sheet :deep(h3) {
  font-size: 1.1rem;
}
.sheet :deep(:is(ul, ol)) {
  padding-left: 1.6em;
}
.sheet :deep(.moved-block) {
  border-left: 3px solid var(--care);
  padding-left: 10px;
  margin-left: -13px;
}
.sheet :deep(.looked) {
  font-family: var(--sans);
  font-size: 0.85rem;
  margin-left: 6px;
}
/* A block that is chosen has its frame. */
.sheet :deep(.ProseMirror-hideselection *::selection) {
  background: transparent;
}
.sheet :deep(.ProseMirror-gapcursor) {
  display: none;
  pointer-events: none;
  position: absolute;
}
.sheet :deep(.ProseMirror-focused .ProseMirror-gapcursor) {
  display: block;
  border-top: 1px solid var(--ink);
  width: 20px;
}
</style>
