/** Texts and tables for the clipboard, and whether the last one is there now. */
import { ref } from 'vue'

import { useNotices } from '@/notices'

export function useCopied() {
  const notices = useNotices()
  const wasCopied = ref(false)

  async function put(what: string, write: () => Promise<void>) {
    try {
      await write()
      wasCopied.value = true
      setTimeout(() => (wasCopied.value = false), 2500)
    } catch {
      notices.complain(
        `The browser did not allow copying. Select the ${what} and copy it yourself.`,
      )
    }
  }

  const copy = (text: string) => put('text', () => navigator.clipboard.writeText(text))

  /** As HTML for word processors, with tabs for spreadsheets; `lines` are the cells as texts,
   * without which they are read from the element. */
  async function copyTable(element: HTMLTableElement | undefined, lines?: string[][]) {
    if (!element) return
    const cells = lines ?? textOf(element)
    const html = new Blob([element.outerHTML], { type: 'text/html' })
    const text = new Blob([cells.map((row) => row.join('\t')).join('\n')], { type: 'text/plain' })
    await put('table', () =>
      navigator.clipboard.write([new ClipboardItem({ 'text/html': html, 'text/plain': text })]),
    )
  }

  return { wasCopied, copy, copyTable }
}

function textOf(table: HTMLTableElement): string[][] {
  return [...table.rows].map((row) =>
    [...row.cells].map((cell) => cell.textContent!.replace(/\s+/g, ' ').trim()),
  )
}
