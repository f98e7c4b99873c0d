/** A report's blocks as the editor's document, and back: what is written is the blocks. */
import type { JSONContent } from '@tiptap/core'

import type { Schemas } from '@/api/types'

export type Block = Schemas['BlockOut']['block']
export type Line = Schemas['Paragraph']['content']
type Inline = Line[number]
/** A block with its name; the order is that of the page. */
export interface Named {
  name: string
  block: Block
}

const WRITTEN = ['heading', 'paragraph', 'list']

function nodeOfInline(part: Inline): JSONContent {
  if (part.type === 'break') return { type: 'hardBreak' }
  if (part.type === 'reference') return { type: 'reference', attrs: { block: part.block } }
  if (part.type === 'number')
    return { type: 'live', attrs: { question: part.question, key: part.key } }
  const marks = [...(part.bold ? ['bold'] : []), ...(part.italic ? ['italic'] : [])]
  return { type: 'text', text: part.text, marks: marks.map((type) => ({ type })) }
}

/** Empty text is no node. */
function nodesOf(line: Line): JSONContent[] {
  return line.filter((part) => part.type !== 'text' || part.text).map(nodeOfInline)
}

/** The node of a block at the top of the document. */
export function nodeOf({ name, block }: Named): JSONContent {
  if (block.type === 'heading')
    return {
      type: 'heading',
      attrs: { name, level: block.level },
      content: nodesOf(block.content),
    }
  if (block.type === 'paragraph')
    return { type: 'paragraph', attrs: { name, made: block.made }, content: nodesOf(block.content) }
  if (block.type === 'list')
    return {
      type: block.is_numbered ? 'orderedList' : 'bulletList',
      attrs: { name },
      content: block.items.map((line) => ({
        type: 'listItem',
        content: [{ type: 'paragraph', content: nodesOf(line) }],
      })),
    }
  return { type: 'answer', attrs: { name, block } }
}

function inlineOf(node: JSONContent): Inline[] {
  if (node.type === 'hardBreak') return [{ type: 'break' }]
  if (node.type === 'reference') return [{ type: 'reference', block: String(node.attrs?.block) }]
  if (node.type === 'live')
    return [
      { type: 'number', question: String(node.attrs?.question), key: String(node.attrs?.key) },
    ]
  if (node.type !== 'text' || !node.text) return []
  const has = (mark: string) => !!node.marks?.some(({ type }) => type === mark)
  return [{ type: 'text', text: node.text, bold: has('bold'), italic: has('italic') }]
}

const lineOf = (node: JSONContent): Line => (node.content ?? []).flatMap(inlineOf)

/** Lists in lists are written one after the other. */
function itemsOf(list: JSONContent): Line[] {
  return (list.content ?? []).flatMap((item) =>
    (item.content ?? []).flatMap((part) =>
      part.type === 'paragraph' ? [lineOf(part)] : itemsOf(part),
    ),
  )
}

/** The block of a node at the top of the document. */
export function blockOf(node: JSONContent): Block {
  if (node.type === 'heading')
    return { type: 'heading', level: node.attrs?.level ?? 1, content: lineOf(node) }
  if (node.type === 'bulletList' || node.type === 'orderedList')
    return { type: 'list', is_numbered: node.type === 'orderedList', items: itemsOf(node) }
  if (node.type === 'answer') return node.attrs!.block as Block
  return {
    type: 'paragraph',
    content: lineOf(node),
    made: node.attrs?.made === 'methods' ? 'methods' : '',
  }
}

/** Whether people write it; otherwise an answer stands there. */
export const isWritten = (block: Block) => WRITTEN.includes(block.type)

/** The document of a report: an empty one has a paragraph to write in. */
export function documentOf(blocks: readonly Named[]): JSONContent {
  const content = blocks.map(nodeOf)
  return { type: 'doc', content: content.length ? content : [{ type: 'paragraph' }] }
}

/** The blocks of a document, those without a name yet left out. */
export function blocksOf(document: JSONContent): Named[] {
  return (document.content ?? []).flatMap((node) =>
    node.attrs?.name ? [{ name: String(node.attrs.name), block: blockOf(node) }] : [],
  )
}

/** A name no other block has. */
export const newName = () => crypto.randomUUID()
