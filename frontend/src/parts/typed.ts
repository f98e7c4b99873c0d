/** The number somebody typed, with a decimal comma or point, or null. */
export function numberIn(text: string): number | null {
  const plain = text.trim().replace(',', '.')
  const value = Number(plain)
  return plain && Number.isFinite(value) ? value : null
}
