/** What each measure of association says, in a line; "outcome" and "group" as in the sentence. */
import type { CrosstabResults, Survey } from '@/api/types'

export type Association = CrosstabResults['whole']['association']
type Key = keyof Association

interface Words {
  key: Key
  title: string
  says: string
  for: 'unordered' | 'ordered'
}

export const MEASURES: Words[] = [
  {
    key: 'cramers_v',
    title: 'Cramér’s V',
    says: '0 unrelated, 1 one settles the other; no direction',
    for: 'unordered',
  },
  {
    key: 'cramers_v_bias_corrected',
    title: 'Cramér’s V, corrected',
    says: 'with what chance alone brings taken out',
    for: 'unordered',
  },
  { key: 'phi', title: 'phi', says: 'as V for two by two, with a sign', for: 'unordered' },
  {
    key: 'contingency_coefficient',
    title: 'contingency coefficient',
    says: 'never reaches 1; only for tables of the same size',
    for: 'unordered',
  },
  {
    key: 'lambda_column_given_row',
    title: 'lambda, outcome from group',
    says: 'knowing the group spares this share of wrong guesses of the outcome',
    for: 'unordered',
  },
  {
    key: 'lambda_row_given_column',
    title: 'lambda, group from outcome',
    says: 'knowing the outcome spares this share of wrong guesses of the group',
    for: 'unordered',
  },
  {
    key: 'lambda_symmetric',
    title: 'lambda, both ways',
    says: 'the two together',
    for: 'unordered',
  },
  {
    key: 'goodman_kruskal_tau_column_given_row',
    title: 'tau, outcome from group',
    says: 'knowing the group improves a guess in proportion by this share',
    for: 'unordered',
  },
  {
    key: 'goodman_kruskal_tau_row_given_column',
    title: 'tau, group from outcome',
    says: 'the same for the group',
    for: 'unordered',
  },
  {
    key: 'uncertainty_coefficient_column_given_row',
    title: 'uncertainty, outcome from group',
    says: 'share of the outcome’s uncertainty that the group removes',
    for: 'unordered',
  },
  {
    key: 'uncertainty_coefficient_row_given_column',
    title: 'uncertainty, group from outcome',
    says: 'the same for the group',
    for: 'unordered',
  },
  {
    key: 'uncertainty_coefficient_symmetric',
    title: 'uncertainty, both ways',
    says: 'the two together',
    for: 'unordered',
  },
  {
    key: 'gamma',
    title: 'gamma',
    says: 'of pairs that differ on both: more in the same order than in the opposite one',
    for: 'ordered',
  },
  {
    key: 'kendall_tau_b',
    title: 'Kendall’s tau-b',
    says: 'as gamma, ties counted against it; for square tables',
    for: 'ordered',
  },
  {
    key: 'stuart_tau_c',
    title: 'Stuart’s tau-c',
    says: 'as tau-b for tables that are not square',
    for: 'ordered',
  },
  {
    key: 'somers_d_column_given_row',
    title: 'Somers’ d, outcome given group',
    says: 'of pairs that differ on the group: how much the outcome follows',
    for: 'ordered',
  },
  {
    key: 'somers_d_row_given_column',
    title: 'Somers’ d, group given outcome',
    says: 'of pairs that differ on the outcome: how much the group follows',
    for: 'ordered',
  },
  {
    key: 'somers_d_symmetric',
    title: 'Somers’ d, both ways',
    says: 'the two together',
    for: 'ordered',
  },
]

export interface MeasureLine {
  title: string
  says: string
  value: number | null
  ci: readonly [number, number] | null
  p: number | null
  leads: boolean
  /** Of a weighted table: with each row counted once. */
  unweighted?: number | null
}

function named(words: Words, titles: { rows: string; columns: string }) {
  const put = (text: string) =>
    text.replace(/\b(the )?group\b/g, titles.rows).replace(/\b(the )?outcome\b/g, titles.columns)
  return { title: put(words.title), says: put(words.says) }
}

/** The measures of a weighted table. */
export function weightedLines(
  table: NonNullable<Survey['table']>,
  withOrder: boolean,
  titles: { rows: string; columns: string },
  plain?: Association,
): MeasureLine[] {
  return MEASURES.filter((each) => withOrder || each.for === 'unordered').flatMap((each) => {
    const found =
      each.key === 'cramers_v'
        ? { value: table.cramers_v, ci: table.cramers_v_ci, unweighted: plain?.cramers_v ?? null }
        : table.measures.find(({ key }) => key === each.key)
    if (!found) return []
    const { value, unweighted } = found
    const ci = found.ci as [number, number] | null
    const leads = each.key === 'cramers_v'
    return [{ ...named(each, titles), value, ci, p: null, leads, unweighted }]
  })
}

/** The measures of a table, those of order only where they are asked for. */
export function measureLines(
  association: Association,
  withOrder: boolean,
  titles: { rows: string; columns: string },
): MeasureLine[] {
  return MEASURES.filter((each) => withOrder || each.for === 'unordered').map((each) => {
    const found = association[each.key]
    const base = { ...named(each, titles), leads: association.leading === each.key }
    if (typeof found === 'number') {
      const ci = each.key === 'cramers_v' ? (association.cramers_v_ci as [number, number]) : null
      return { ...base, value: found, ci, p: null }
    }
    if (found === null || typeof found !== 'object' || !('value' in found))
      return { ...base, value: null, ci: null, p: null }
    return { ...base, value: found.value, ci: found.ci as [number, number] | null, p: found.p }
  })
}

export type Test = NonNullable<Survey['several'][number]['test']>
type Weighted = NonNullable<Survey['table']>

/** Rao and Scott's corrected statistic as an F. */
export function correctedF(
  table: Weighted | null | undefined,
  order: 'first_order' | 'second_order',
): Test | null {
  const found = table?.rao_scott_pearson?.[order]
  return found ? { f: found.f, df1: found.df1, df2: found.df2, p: found.p_f } : null
}

/** A Wald statistic as the F that so many contrasts leave. */
export function adjustedF(found: Weighted['wald_residual'] | undefined): Test | null {
  if (!found) return null
  const { adjusted_f, adjusted_df1, adjusted_df2, adjusted_p } = found
  return { f: adjusted_f, df1: adjusted_df1, df2: adjusted_df2, p: adjusted_p }
}

/** The tests there are, with their names. */
export function namedTests(tests: [string, Test | null | undefined][]) {
  return tests.flatMap(([what, test]) => (test ? [{ what, test }] : []))
}
