/** The numbers of an answer that a sentence can hold; what two tables say alike is told once. */
import type { PrintedNumber, PrintedTable } from '@/parts/printed'

type Parts = { tables: PrintedTable[]; flow: PrintedTable }

export function numbersOf(parts: Parts | undefined): PrintedNumber[] {
  const found = new Map<string, PrintedNumber>()
  for (const table of parts ? [...parts.tables, parts.flow] : [])
    for (const part of table.rows.flatMap(({ cells }) => cells.flat()))
      if (typeof part !== 'string') {
        const said = `${part.label}|${part.text}`
        if (!found.has(said)) found.set(said, part)
      }
  return [...found.values()]
}
