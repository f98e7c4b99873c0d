/** What a report's page holds beside text: live numbers, references, answers; and the names of blocks. */
import { Extension, Node } from '@tiptap/core'
import { Plugin, PluginKey } from '@tiptap/pm/state'
import { VueNodeViewRenderer } from '@tiptap/vue-3'

import AnswerBlock from './AnswerBlock.vue'
import LiveNumber from './LiveNumber.vue'
import ReferenceTo from './ReferenceTo.vue'
import { newName } from './document'

const NAMED = ['heading', 'paragraph', 'bulletList', 'orderedList', 'answer']

/** A number of an answer: the document holds which, never its value. */
export const Live = Node.create({
  name: 'live',
  group: 'inline',
  inline: true,
  atom: true,
  selectable: true,
  addAttributes: () => ({ question: { default: '' }, key: { default: '' } }),
  parseHTML: () => [
    {
      tag: 'span[data-live]',
      getAttrs: (element) => ({
        question: element.dataset.question ?? '',
        key: element.dataset.live ?? '',
      }),
    },
  ],
  renderHTML: ({ node }) => [
    'span',
    { 'data-live': node.attrs.key, 'data-question': node.attrs.question },
  ],
  addNodeView: () => VueNodeViewRenderer(LiveNumber),
})

/** "Table 1", of a block that numbers itself. */
export const Reference = Node.create({
  name: 'reference',
  group: 'inline',
  inline: true,
  atom: true,
  selectable: true,
  addAttributes: () => ({ block: { default: '' } }),
  parseHTML: () => [
    {
      tag: 'span[data-reference]',
      getAttrs: (element) => ({ block: element.dataset.reference ?? '' }),
    },
  ],
  renderHTML: ({ node }) => ['span', { 'data-reference': node.attrs.block }],
  addNodeView: () => VueNodeViewRenderer(ReferenceTo),
})

/** A table, picture or sentence of an answer. */
export const Answer = Node.create({
  name: 'answer',
  group: 'block',
  atom: true,
  selectable: true,
  addAttributes: () => ({
    block: {
      default: null,
      parseHTML: (element) => JSON.parse(element.dataset.block ?? 'null'),
      renderHTML: ({ block }) => ({ 'data-block': JSON.stringify(block) }),
    },
  }),
  parseHTML: () => [{ tag: 'div[data-block]' }],
  renderHTML: ({ HTMLAttributes }) => ['div', HTMLAttributes],
  addNodeView: () => VueNodeViewRenderer(AnswerBlock),
})

/** Every block at the top has a name of its own; what is split or pasted gets a new one. */
export const Names = Extension.create({
  name: 'names',
  addGlobalAttributes: () => [
    {
      types: NAMED,
      attributes: { name: { default: null, keepOnSplit: false, rendered: false } },
    },
    { types: ['paragraph'], attributes: { made: { default: '', rendered: false } } },
  ],
  addProseMirrorPlugins: () => [
    new Plugin({
      key: new PluginKey('names'),
      appendTransaction: (transactions, _before, state) => {
        if (!transactions.some(({ docChanged }) => docChanged)) return null
        const seen = new Set<string>()
        const change = state.tr
        state.doc.forEach((node, at) => {
          const name = node.attrs.name as string | null
          if (name && !seen.has(name)) seen.add(name)
          else change.setNodeAttribute(at, 'name', newName())
        })
        return change.docChanged ? change.setMeta('addToHistory', false) : null
      },
    }),
  ],
})

/** "/" or "=" where a word could begin asks for a number; `open` says where on the screen. */
export const Asks = Extension.create<{ open: (typed: string) => void }>({
  name: 'asks',
  addOptions: () => ({ open: () => undefined }),
  addProseMirrorPlugins() {
    const { open } = this.options
    return [
      new Plugin({
        key: new PluginKey('asks'),
        props: {
          handleTextInput: (view, from, _to, text) => {
            if (text !== '/' && text !== '=') return false
            const before = view.state.doc.textBetween(Math.max(0, from - 1), from, '\n', '\n')
            if (before && !/[\s([“"–—]/.test(before)) return false
            open(text)
            return true
          },
        },
      }),
    ]
  },
})
