/** Conditions and what they join, in words. */
import type { Condition, Entry, Rule, Subset } from '@/api/types'
import { labelOf, titleOf } from '@/parts/kinds'

export function entryOf(codebook: Entry[] | undefined, name: string | undefined) {
  return codebook?.find(({ variable }) => variable.name === name)
}

export function titleIn(codebook: Entry[] | undefined, name: string): string {
  const entry = entryOf(codebook, name)
  return entry ? titleOf(entry.variable) : name
}

export function isGroup(rule: Rule): rule is Subset {
  return 'all' in rule || 'any' in rule
}

/** What a rule joins: conditions, and groups of conditions. */
export function rulesOf(subset: Subset | null | undefined): Rule[] {
  if (!subset) return []
  return ('all' in subset ? subset.all : subset.any) as Rule[]
}

export function conditionInWords(condition: Condition, codebook: Entry[] | undefined): string {
  const entry = entryOf(codebook, condition.variable)
  const about = titleIn(codebook, condition.variable)
  if ('is' in condition) {
    const labels = condition.is.map((value) => (entry ? labelOf(entry.variable, value) : value))
    return `${about}: ${labels.join(' or ')}`
  }
  if ('missing' in condition) return `${about} ${condition.missing ? 'not answered' : 'answered'}`
  if ('since' in condition || 'until' in condition) {
    const { since, until } = condition
    if (until == null) return `${about} on ${since} or later`
    return since == null ? `${about} up to ${until}` : `${about} ${since} to ${until}`
  }
  const { from, to } = condition as Extract<Condition, { from?: unknown }>
  if (to == null) return `${about} ${from} or more`
  return from == null ? `${about} ${to} or less` : `${about} ${from} to ${to}`
}

export function subsetInWords(subset: Subset, codebook: Entry[] | undefined): string {
  const joined = 'all' in subset ? ' and ' : ' or '
  return rulesOf(subset)
    .map((rule) => {
      if (!isGroup(rule)) return conditionInWords(rule, codebook)
      const words = subsetInWords(rule, codebook)
      return rulesOf(rule).length > 1 ? `(${words})` : words
    })
    .join(joined)
}
