/** A table on the clipboard: as HTML for word processors, with tabs for spreadsheets. */
import { ref } from 'vue'

import { useNotices } from '@/notices'

export function useCopiedTable() {
  const notices = useNotices()
  const wasCopied = ref(false)

  /** `lines` are the cells as texts; without them they are read from the element. */
  async function copy(element: HTMLTableElement | undefined, lines?: string[][]) {
    if (!element) return
    const cells = lines ?? textOf(element)
    const html = new Blob([element.outerHTML], { type: 'text/html' })
    const text = new Blob([cells.map((row) => row.join('\t')).join('\n')], { type: 'text/plain' })
    try {
      await navigator.clipboard.write([
        new ClipboardItem({ 'text/html': html, 'text/plain': text }),
      ])
      wasCopied.value = true
      setTimeout(() => (wasCopied.value = false), 2500)
    } catch {
      notices.complain('The browser did not allow copying. Select the table and copy it yourself.')
    }
  }

  return { wasCopied, copy }
}

function textOf(table: HTMLTableElement): string[][] {
  return [...table.rows].map((row) =>
    [...row.cells].map((cell) => cell.textContent!.replace(/\s+/g, ' ').trim()),
  )
}
