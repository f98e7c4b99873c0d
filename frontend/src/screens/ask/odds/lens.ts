/** How the model of an event's odds shows its answer. */
import CategoriesPanel from '../answer/CategoriesPanel.vue'
import type { LensView } from '../lensView'
import CoefficientsPanel from './CoefficientsPanel.vue'
import FitPanel from './FitPanel.vue'
import LogLinkPanel from './LogLinkPanel.vue'
import OddsSheet from './OddsSheet.vue'
import PaperTable from './PaperTable.vue'
import ProfilePanel from './ProfilePanel.vue'
import SharesPanel from './SharesPanel.vue'
import SortingPanel from './SortingPanel.vue'
import StepsPanel from './StepsPanel.vue'
import UnusualPanel from './UnusualPanel.vue'

export const odds: LensView = {
  sheet: OddsSheet,
  panels: {
    profile: ProfilePanel,
    shares: SharesPanel,
    log_link: LogLinkPanel,
    steps: StepsPanel,
    fit: FitPanel,
    sorting: SortingPanel,
    unusual: UnusualPanel,
    paper: PaperTable,
    categories: CategoriesPanel,
    coefficients: CoefficientsPanel,
  },
}
