/** How the distribution of variables shows its answer. */
import type { LensView } from '../lensView'
import DistributionSheet from './DistributionSheet.vue'
import ExpectedPanel from './ExpectedPanel.vue'
import RelatedPanel from './RelatedPanel.vue'
import SharePanel from './SharePanel.vue'
import ValuesPanel from './ValuesPanel.vue'

export const distribution: LensView = {
  sheet: DistributionSheet,
  panels: {
    values: ValuesPanel,
    share: SharePanel,
    expected: ExpectedPanel,
    related: RelatedPanel,
  },
}
