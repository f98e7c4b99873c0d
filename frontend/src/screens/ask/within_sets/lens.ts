/** How the model of matched sets shows its answer. */
import CategoriesPanel from '../answer/CategoriesPanel.vue'
import type { LensView } from '../lensView'
import MatchedCoefficients from './MatchedCoefficients.vue'
import WithinSetsSheet from './WithinSetsSheet.vue'

export const within_sets: LensView = {
  sheet: WithinSetsSheet,
  panels: { categories: CategoriesPanel, coefficients: MatchedCoefficients },
}
