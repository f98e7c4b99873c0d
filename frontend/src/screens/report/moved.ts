/** Marks the blocks in which a number is not what somebody last looked at, with a word to say so. */
import { Extension } from '@tiptap/core'
import { Plugin, PluginKey } from '@tiptap/pm/state'
import { Decoration, DecorationSet } from '@tiptap/pm/view'

import type { PageNow } from './page'

/** "It was 2.74" for one, how many for several. */
export function wasInWords(was: Readonly<Record<string, string>>): string {
  const all = Object.values(was)
  return all.length === 1 ? `It was ${all[0]}.` : `They were ${all.join(', ')}.`
}

export const Moved = Extension.create<{ page: PageNow | undefined }>({
  name: 'moved',
  addOptions: () => ({ page: undefined }),
  addProseMirrorPlugins() {
    const { page } = this.options
    return [
      new Plugin({
        key: new PluginKey('moved'),
        props: {
          decorations: (state) => {
            const found: Decoration[] = []
            const moved = page?.moved.value ?? {}
            state.doc.forEach((node, at) => {
              const name = String(node.attrs.name)
              const was = moved[name]
              if (!was || node.type.name === 'answer') return
              found.push(Decoration.node(at, at + node.nodeSize, { class: 'moved-block' }))
              const inside = at + node.nodeSize - 1
              const button = () => lookedAt(wasInWords(was), () => page?.look([name]), page)
              found.push(Decoration.widget(inside, button, { side: 1, key: `${name}-looked` }))
            })
            return DecorationSet.create(state.doc, found)
          },
        },
      }),
    ]
  },
})

function lookedAt(words: string, look: () => void, page: PageNow | undefined): HTMLElement {
  const element = document.createElement('span')
  element.className = 'looked quiet'
  element.contentEditable = 'false'
  element.append(`${words} `)
  if (!page?.isReader.value) {
    const button = document.createElement('button')
    button.type = 'button'
    button.className = 'act'
    button.textContent = 'Looked at'
    button.addEventListener('mousedown', (event) => event.preventDefault())
    button.addEventListener('click', look)
    element.append(button)
  }
  return element
}
