/**
 * The only formatter of numbers; the same as core/questions/wording.py (tests/formats.json).
 *
 * Minus signs are true, no zero is negative, and what does not exist is a dash.
 */

export type Ratio = number | 'Infinity' | null | undefined
export type Limits = readonly (number | 'Infinity')[] | null | undefined

const NOTHING = '—'
const formats = new Map<number, Intl.NumberFormat>()

/** With so many decimals and commas between thousands: −1,234.5 */
export function fixed(value: number, decimals: number): string {
  let format = formats.get(decimals)
  if (!format) {
    const digits = { minimumFractionDigits: decimals, maximumFractionDigits: decimals }
    format = new Intl.NumberFormat('en-US', digits)
    formats.set(decimals, format)
  }
  const text = format.format(value)
  return /^-0(\.0+)?$/.test(text) ? text.slice(1) : text.replace('-', '−')
}

export function count(n: number): string {
  return fixed(n, 0)
}

/** 0.31378 -> "31.4%" */
export function percent(share: number | null | undefined): string {
  return share == null ? NOTHING : `${points(share)}%`
}

/**
 * A share in percent, or a difference of shares in percentage points: 0.31378 -> "31.4". What is not
 * 0 or 100 is not written so.
 */
export function points(share: number | null | undefined): string {
  if (share == null) return NOTHING
  const size = Math.abs(100 * share)
  return fixed(100 * share, decimals(Math.min(size, Math.abs(100 - size)), 1))
}

/** As many as it takes to show a digit of a size that is not 0; rounding errors are. */
function decimals(size: number, usual: number): number {
  const roundsAway = size > 1e-6 && size < 10 ** -usual
  return roundsAway ? Math.max(usual, Math.ceil(-Math.log10(size))) : usual
}

export function oneDecimal(value: number): string {
  return fixed(value, 1)
}

export function two(value: number | null | undefined): string {
  return value == null ? NOTHING : fixed(value, 2)
}

export function three(value: number | null | undefined): string {
  return value == null ? NOTHING : fixed(value, 3)
}

/**
 * Two decimals; large ones with fewer, and more where the value would look like 0 or 1: 1.0004, 0.002;
 * "∞" where it has no end.
 */
export function ratio(value: Ratio): string {
  if (value == null) return NOTHING
  if (value === 'Infinity') return '∞'
  if (value >= 100) return fixed(value, value >= 1000 ? 0 : 1)
  return fixed(value, decimals(Math.min(value, Math.abs(value - 1)), 2))
}

/** "2.04 to 4.09", each end written by `write`. */
export function limits(ci: Limits, write: (end: number) => string = ratio): string {
  if (!ci) return ''
  return ci.map((end) => (end === 'Infinity' ? '∞' : write(end))).join(' to ')
}

/** A test statistic: two decimals, one from 10 on. */
export function statistic(value: number): string {
  return fixed(value, Math.abs(value) >= 10 ? 1 : 2)
}

/** Degrees of freedom, whole or not. */
export function freedom(df: number): string {
  return Number.isInteger(df) ? count(df) : fixed(df, df < 10 ? 2 : 1)
}

/** Levels of significance in use. */
const LEVELS = [0.1, 0.05, 0.01]

/** Down to "< 0.001"; more decimals where p would look like a level that it is not: 0.0496. */
export function pValue(p: number | null | undefined): string {
  if (p == null) return NOTHING
  if (p < 0.001) return '< 0.001'
  if (p > 0.99) return '> 0.99'
  let digits = p < 0.0995 ? 3 : 2
  while (
    digits < 7 &&
    LEVELS.includes(Number(fixed(p, digits))) &&
    Number(fixed(p, digits)) !== p
  ) {
    digits += 1
  }
  return fixed(p, digits)
}

/** "p = 0.042" or "p < 0.001". */
export function pEquals(p: number): string {
  const text = pValue(p)
  return /^[<>]/.test(text) ? `p ${text}` : `p = ${text}`
}

/** 1536 -> "1.5 kB" */
export function fileSize(bytes: number): string {
  if (bytes < 1000) return `${bytes} bytes`
  const units = ['kB', 'MB', 'GB']
  const power = Math.min(Math.floor(Math.log10(bytes) / 3), units.length)
  const value = bytes / 1000 ** power
  return `${fixed(value, value >= 100 ? 0 : 1)} ${units[power - 1]}`
}

/** A number as short as it reads, for axes and summaries: 12, 4.5, 1,230. */
export function short(value: number, digits = 4): string {
  return new Intl.NumberFormat('en-US', { maximumSignificantDigits: digits })
    .format(value)
    .replace('-', '−')
}

/** A number as it stands in a field to be typed over: without rounding errors, dots or commas. */
export function inField(value: number | null | undefined): string {
  return value == null ? '' : String(Number(value.toPrecision(10)))
}

export function plural(n: number, one: string, many: string): string {
  return `${count(n)} ${n === 1 ? one : many}`
}
