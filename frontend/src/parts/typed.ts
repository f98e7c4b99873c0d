/** The number somebody typed, with a decimal comma or point, or null. */
export function numberIn(text: string): number | null {
  const plain = text.trim().replace(',', '.')
  const value = Number(plain)
  return plain && Number.isFinite(value) ? value : null
}

/** "2 : 1 : 1", "2 1 1" or "2;1;1" as texts in order. */
export function parseRatios(text: string): string[] {
  return text.split(/[\s:;/]+/).filter((part) => part !== '')
}
