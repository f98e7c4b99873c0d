/** How each lens shows its answer: one line per lens, under the name the server gives it. */
export { crosstab } from './crosstab/lens'
export { distribution } from './distribution/lens'
export { every_answer } from './every_answer/lens'
export { odds } from './odds/lens'
export { proportions } from './proportions/lens'
export { within_sets } from './within_sets/lens'
