/** Steps as they start: everything a kind of step has, with nothing decided yet. */
import type { Entry, Step } from '@/api/types'

type Describe = Extract<Step, { step: 'describe' }>

export function describe(variable: string, changes: Partial<Describe>): Step {
  return {
    step: 'describe',
    variable,
    label: null,
    kind: null,
    date_form: null,
    unit: null,
    categories: null,
    event: null,
    reference: null,
    clear_reference: false,
    ...changes,
  }
}

/** Answers that differ only in capitals or blanks from these are one with them. */
export function oneSpelling(variable: string, values: string[]): Step {
  return { step: 'one_spelling', variable, values }
}

/** A name that no variable has yet: "age_band", "age_band_2", … */
export function freeName(wanted: string, entries: Entry[]): string {
  const taken = new Set(entries.map(({ variable }) => variable.name))
  let name = wanted
  for (let n = 2; taken.has(name); n++) name = `${wanted}_${n}`
  return name
}
