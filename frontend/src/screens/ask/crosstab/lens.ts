/** How the cross-tabulation shows its answer. */
import CategoriesPanel from '../answer/CategoriesPanel.vue'
import LevelField from '../answer/LevelField.vue'
import type { LensView } from '../lensView'
import CrosstabSheet from './CrosstabSheet.vue'
import ExactPanel from './ExactPanel.vue'
import MapPanel from './MapPanel.vue'
import MeasuresPanel from './MeasuresPanel.vue'
import OccasionsPanel from './OccasionsPanel.vue'
import TestsPanel from './TestsPanel.vue'
import TwicePanel from './TwicePanel.vue'
import TwoGroups from './TwoGroups.vue'
import WherePanel from './WherePanel.vue'

export const crosstab: LensView = {
  sheet: CrosstabSheet,
  panels: {
    measures: MeasuresPanel,
    tests: TestsPanel,
    two_groups: TwoGroups,
    twice: TwicePanel,
    occasions: OccasionsPanel,
    exact: ExactPanel,
    where: WherePanel,
    map: MapPanel,
    categories: CategoriesPanel,
    level: LevelField,
  },
}
