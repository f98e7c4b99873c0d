/** Several variables with one outcome, weighted or not, as lines of one table. */
import type { CrosstabResults, Survey } from '@/api/types'
import { oneDecimal } from '@/design/numbers'

export interface SeveralLine {
  variable: string
  title: string
  n: number
  test: { statistic: string; df: string; p: number } | null
  pHolm: number | null
  v: number | null
  ci: readonly number[] | null
  leftOut: string
}

type Any = CrosstabResults['several'][number] | Survey['several'][number]

function line(each: Any, test: SeveralLine['test']): SeveralLine {
  const { variable, title, n } = each
  return {
    variable,
    title,
    n,
    test,
    pHolm: each.p_holm ?? null,
    v: each.cramers_v ?? null,
    ci: each.cramers_v_ci ?? null,
    leftOut: each.left_out ?? 'no test',
  }
}

export function plainLines(several: CrosstabResults['several']): SeveralLine[] {
  return several.map((each) => {
    const test = each.chi_square
    return line(
      each,
      test && { statistic: test.statistic.toFixed(1), df: String(test.df), p: test.p },
    )
  })
}

export function weightedSeveral(several: Survey['several']): SeveralLine[] {
  return several.map((each) => {
    const test = each.test
    const df = test && `${oneDecimal(test.df1)}, ${oneDecimal(test.df2)}`
    return line(each, test ? { statistic: test.f.toFixed(2), df: df!, p: test.p } : null)
  })
}
