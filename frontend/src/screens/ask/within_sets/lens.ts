/** How the model of matched sets shows its answer. */
import CategoriesPanel from '../answer/CategoriesPanel.vue'
import ModelPaper from '../answer/ModelPaper.vue'
import ModelSteps from '../answer/ModelSteps.vue'
import type { LensView } from '../lensView'
import MatchedCoefficients from './MatchedCoefficients.vue'
import WithinSetsSheet from './WithinSetsSheet.vue'

export const within_sets: LensView = {
  sheet: WithinSetsSheet,
  panels: {
    steps: ModelSteps,
    paper: ModelPaper,
    categories: CategoriesPanel,
    coefficients: MatchedCoefficients,
  },
}
