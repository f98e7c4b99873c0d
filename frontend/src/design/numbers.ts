/** One number format everywhere; the same as core/questions/wording.py (tests/formats.json). */

const whole = new Intl.NumberFormat('en-US', { maximumFractionDigits: 0 })

export function count(n: number): string {
  return whole.format(n)
}

/** 0.31378 -> "31.4%" */
export function percent(share: number): string {
  return `${(100 * share).toFixed(1)}%`
}

/** One decimal, with a true minus sign. */
export function oneDecimal(value: number): string {
  const text = new Intl.NumberFormat('en-US', {
    minimumFractionDigits: 1,
    maximumFractionDigits: 1,
  }).format(value)
  return text.replace('-', '−').replace(/^−0\.0$/, '0.0')
}

/** Two significant digits down to "< 0.001". */
export function pValue(p: number): string {
  if (p < 0.001) return '< 0.001'
  if (p > 0.99) return '> 0.99'
  return p < 0.0995 ? p.toFixed(3) : p.toFixed(2)
}

/** 1536 -> "1.5 kB" */
export function fileSize(bytes: number): string {
  if (bytes < 1000) return `${bytes} bytes`
  const units = ['kB', 'MB', 'GB']
  const power = Math.min(Math.floor(Math.log10(bytes) / 3), units.length)
  const value = bytes / 1000 ** power
  return `${value >= 100 ? value.toFixed(0) : value.toFixed(1)} ${units[power - 1]}`
}

/** A number as short as it reads, for axes and summaries: 12, 4.5, 1,230. */
export function short(value: number): string {
  return new Intl.NumberFormat('en-US', { maximumSignificantDigits: 4 }).format(value)
}

export function plural(n: number, one: string, many: string): string {
  return `${count(n)} ${n === 1 ? one : many}`
}

/** "p = 0.042" or "p < 0.001". */
export function pEquals(p: number): string {
  const text = pValue(p)
  return /^[<>]/.test(text) ? `p ${text}` : `p = ${text}`
}
