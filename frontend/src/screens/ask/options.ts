/** The options of a question: what only one lens knows. */
import type { Question } from '@/api/types'

type Options = Question['options']

/** Whether the question uses categories otherwise than the codebook has them. */
export function isRecast({ options }: Question): boolean {
  return Object.keys((options.categories as object | undefined) ?? {}).length > 0
}

/** The question with some options changed; undefined takes one out. */
export function withOptions(question: Question, changes: Record<string, unknown>): Question {
  const options = { ...question.options, ...changes } as Options
  for (const [name, value] of Object.entries(changes)) if (value === undefined) delete options[name]
  return { ...question, options }
}
