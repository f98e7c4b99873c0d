/** How each lens shows its answer, under the name the server gives it. */
import type { LensView } from './lensView'
import { crosstab } from './crosstab/lens'
import { distribution } from './distribution/lens'
import { every_answer } from './every_answer/lens'
import { odds } from './odds/lens'
import { proportions } from './proportions/lens'
import { within_sets } from './within_sets/lens'

export const lenses: Record<string, LensView> = {
  crosstab,
  distribution,
  every_answer,
  odds,
  proportions,
  within_sets,
}
