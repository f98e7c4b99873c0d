/** How the comparison of shares shows its answer. */
import CategoriesPanel from '../answer/CategoriesPanel.vue'
import type { LensView } from '../lensView'
import FirstTablePanel from '../overview/FirstTablePanel.vue'
import MarginPanel from './MarginPanel.vue'
import PairedPanel from './PairedPanel.vue'
import PlanPanel from './PlanPanel.vue'
import ProportionsSheet from './ProportionsSheet.vue'
import StatementPanel from './StatementPanel.vue'
import TestsPanel from './TestsPanel.vue'

export const proportions: LensView = {
  sheet: ProportionsSheet,
  panels: {
    tests: TestsPanel,
    margin: MarginPanel,
    first_table: FirstTablePanel,
    paired: PairedPanel,
    categories: CategoriesPanel,
    statement: StatementPanel,
    plan: PlanPanel,
  },
}
