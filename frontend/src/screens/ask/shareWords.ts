/** Ratios and differences in the cells of a table. */
import { count } from '@/design/numbers'

/** "Title: Yes" stands under "Title" as "Yes". */
export function underTitle(label: string, title: string): string {
  return label.startsWith(`${title}: `) ? label.slice(title.length + 2) : label
}

export function ratioOf(value: number | 'Infinity' | null | undefined): string {
  if (value == null) return '—'
  return value === 'Infinity' ? '∞' : shortRatio(value)
}

/** A difference of shares in percentage points, with a true minus sign. */
export function pointsOf(value: number | null | undefined): string {
  return value == null ? '—' : fixed(100 * value, 1)
}

/** With a true minus sign, and without a negative zero. */
export function fixed(value: number, decimals: number): string {
  const text = value.toFixed(decimals)
  return Number(text) === 0 ? text.replace('-', '') : text.replace('-', '−')
}

/** Two decimals; large ones with fewer, as the server writes them. */
function shortRatio(value: number): string {
  if (value >= 1000) return count(value)
  return value.toFixed(value >= 100 ? 1 : 2)
}

function limit(value: number, decimals: number): string {
  return decimals === 2 && value >= 100 ? shortRatio(value) : fixed(value, decimals)
}

export function limitsOf(
  ci: readonly (number | 'Infinity')[] | null | undefined,
  times = 1,
  decimals = 2,
): string {
  if (!ci) return ''
  const [low, high] = ci.map((each) =>
    each === 'Infinity' ? '∞' : limit(times * (each as number), decimals),
  )
  return `${low} to ${high}`
}
