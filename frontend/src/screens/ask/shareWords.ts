/** Ratios and differences in the cells of a table. */

/** "Title: Yes" stands under "Title" as "Yes". */
export function underTitle(label: string, title: string): string {
  return label.startsWith(`${title}: `) ? label.slice(title.length + 2) : label
}

export function ratioOf(value: number | 'Infinity' | null | undefined): string {
  if (value == null) return '—'
  return value === 'Infinity' ? '∞' : value.toFixed(2)
}

/** A difference of shares in percentage points, with a true minus sign. */
export function pointsOf(value: number | null | undefined): string {
  return value == null ? '—' : (100 * value).toFixed(1).replace('-', '−')
}

export function limitsOf(
  ci: readonly (number | 'Infinity')[] | null | undefined,
  times = 1,
  decimals = 2,
): string {
  if (!ci) return ''
  const [low, high] = ci.map((each) =>
    each === 'Infinity' ? '∞' : (times * (each as number)).toFixed(decimals).replace('-', '−'),
  )
  return `${low} to ${high}`
}
