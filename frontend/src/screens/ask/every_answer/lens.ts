/** How the model of every answer to an outcome shows its answer. */
import CategoriesPanel from '../answer/CategoriesPanel.vue'
import ModelPaper from '../answer/ModelPaper.vue'
import ModelSteps from '../answer/ModelSteps.vue'
import type { LensView } from '../lensView'
import AnswersCoefficients from './AnswersCoefficients.vue'
import CutsPanel from './CutsPanel.vue'
import EveryAnswerSheet from './EveryAnswerSheet.vue'
import PredictedPanel from './PredictedPanel.vue'

export const every_answer: LensView = {
  sheet: EveryAnswerSheet,
  panels: {
    cuts: CutsPanel,
    predicted: PredictedPanel,
    steps: ModelSteps,
    paper: ModelPaper,
    categories: CategoriesPanel,
    coefficients: AnswersCoefficients,
  },
}
