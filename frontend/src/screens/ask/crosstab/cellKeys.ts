/** Arrows walk from cell to cell of a table body; Enter or the space bar is a click. */
const STEPS: Record<string, readonly [down: number, right: number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
}

export function walk(event: KeyboardEvent) {
  const cell = (event.target as HTMLElement).closest<HTMLTableCellElement>('td[tabindex]')
  const row = cell?.parentElement as HTMLTableRowElement | undefined
  if (!cell || !row) return
  if (event.key === 'Enter' || event.key === ' ') cell.click()
  else if (STEPS[event.key]) {
    const [down, right] = STEPS[event.key]!
    const rows = row.parentElement!.children
    const at = [...rows].indexOf(row) + down
    const next = rows[at]?.children[cell.cellIndex + right] as HTMLElement | undefined
    if (next?.matches('td[tabindex]')) next.focus()
  } else return
  event.preventDefault()
  event.stopPropagation()
}
