/** Ratios of shares from the model: everybody set to one category after the other. */
import { describe, expect, it } from 'vitest'

import type { Schemas } from '@/api/types'
import { limits, percent, points, ratio } from '@/design/numbers'
import SharesPanel from '@/screens/ask/odds/SharesPanel.vue'
import { foundIn, show } from './asked'

describe.each(['odds', 'odds weighted'])('ratios of shares of %s', (name) => {
  const found = foundIn<Schemas['SharesPanel']>(name, 'shares')
  const { wrapper } = show(SharesPanel, name, { found, figures: {} })

  it('has the reference first, with nothing to compare it with', () => {
    const [first] = wrapper.findAll('tbody tr')
    expect(first!.text()).toContain('reference')
    expect(
      first!
        .findAll('td')
        .map((cell) => cell.text())
        .slice(1),
    ).toEqual(['1', '0', ''])
  })

  it('tells every other category as a share, a ratio and a difference, each with limits', () => {
    const [variable] = found.variables
    const rows = wrapper.findAll('table')[0]!.findAll('tbody tr')
    expect(rows).toHaveLength(variable!.levels.length)
    for (const [i, level] of variable!.levels.entries()) {
      if (level.ratio === null) continue
      const text = rows[i]!.text()
      expect(text).toContain(percent(level.share))
      expect(text).toContain(ratio(level.ratio))
      expect(text).toContain(limits(level.ratio_ci))
      expect(text).toContain(points(level.difference))
    }
  })
})
