/** Puts blocks into the editor where they differ from what stands there; the caret stays where it is. */
import type { Editor } from '@tiptap/core'
import { Fragment, type Node as PmNode } from '@tiptap/pm/model'

import { isSame } from './changes'
import { blockOf, nodeOf, type Named } from './document'

/** Changes that came from elsewhere: not to be sent back, nor undone here. */
export const FROM_ELSEWHERE = 'fromElsewhere'

export function show(editor: Editor, blocks: readonly Named[]) {
  const { state, view } = editor
  const now: PmNode[] = []
  state.doc.forEach((node) => now.push(node))
  const isThere = (node: PmNode | undefined, block: Named | undefined) =>
    !!node &&
    !!block &&
    node.attrs.name === block.name &&
    isSame(blockOf(node.toJSON()), block.block)
  let first = 0
  while (first < Math.min(now.length, blocks.length) && isThere(now[first], blocks[first])) first++
  let last = 0
  while (
    last < Math.min(now.length, blocks.length) - first &&
    isThere(now[now.length - 1 - last], blocks[blocks.length - 1 - last])
  )
    last++
  const made = blocks
    .slice(first, blocks.length - last)
    .map((block) => state.schema.nodeFromJSON(nodeOf(block)))
  if (!made.length && first + last === now.length) return
  const size = (nodes: PmNode[]) => nodes.reduce((sum, node) => sum + node.nodeSize, 0)
  const from = size(now.slice(0, first))
  const to = from + size(now.slice(first, now.length - last))
  const emptied = !blocks.length ? [state.schema.nodes.paragraph!.create()] : made
  const change = state.tr
    .replaceWith(from, to, Fragment.from(emptied))
    .setMeta('addToHistory', false)
    .setMeta(FROM_ELSEWHERE, true)
  view.dispatch(change)
}
