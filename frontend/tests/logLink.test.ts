/** Ratios of shares by a log link, and the same people each time. */
import { describe, expect, it } from 'vitest'

import type { Schemas } from '@/api/types'
import { limits, percent, points, ratio } from '@/design/numbers'
import OccasionsPanel from '@/screens/ask/crosstab/OccasionsPanel.vue'
import LogLinkPanel from '@/screens/ask/odds/LogLinkPanel.vue'
import { foundIn, show } from './asked'

const plain = (text: string) => text.replace(/\s+/g, ' ')

describe.each(['odds', 'odds weighted'])('ratios by a log link of %s', (name) => {
  const found = foundIn<Schemas['LogLinkPanel']>(name, 'log_link')
  const { wrapper } = show(LogLinkPanel, name, { found, figures: {} })

  it('stand in a line each', () => {
    const rows = wrapper.findAll('tbody tr')
    expect(rows).toHaveLength(found.rows.length)
    for (const [i, row] of found.rows.entries()) {
      expect(rows[i]!.text()).toContain(ratio(row.robust.ratio))
      expect(rows[i]!.text()).toContain(limits(row.robust.ci))
    }
  })

  it('say why there is none by the binomial likelihood', () => {
    const text = plain(wrapper.text())
    if (found.no_binomial) expect(text).toContain(found.no_binomial)
    else expect(text).toContain(ratio(found.rows[0]!.binomial!.ratio))
  })
})

it('says why there is no estimate', () => {
  const found = { rows: [], no_estimate: 'nobody has it', no_binomial: null, above_1: 0 }
  const { wrapper } = show(LogLinkPanel, 'odds', { found, figures: {} })
  expect(wrapper.text()).toContain('There is no estimate: nobody has it.')
  expect(wrapper.find('table').exists()).toBe(false)
})

it('tells every share and every change of the same people', () => {
  const found = foundIn<Schemas['OccasionsPanel']>('crosstab each time', 'occasions')
  const { wrapper } = show(OccasionsPanel, 'crosstab each time', { found })
  const [shares, changes] = wrapper.findAll('tbody')
  expect(shares!.findAll('tr')).toHaveLength(found.occasions.length)
  for (const each of found.occasions) expect(shares!.text()).toContain(percent(each.share))
  expect(changes!.findAll('tr')).toHaveLength(found.changes.length)
  for (const each of found.changes) expect(changes!.text()).toContain(points(each.change))
})
