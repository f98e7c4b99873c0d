/** Data sets brought together: answers placed by key and drag, sentences of groups and keys. */
import { flushPromises, mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import { createVuetify } from 'vuetify'

import type {
  CommonVariable,
  DataSet,
  GroupsToCompare,
  Match,
  OnePerCase,
  Stack,
} from '@/api/types'
import OnePerCaseEditor from '@/screens/data/bring/one-per-case/OnePerCaseEditor.vue'
import FindingList from '@/screens/data/bring/FindingList.vue'
import {
  isComplete,
  newGroup,
  newGroups,
  newMatch,
  newStack,
  roadOf,
} from '@/screens/data/bring/recipes'
import Road from '@/screens/data/bring/Road.vue'
import {
  freeCommonName,
  madeBands,
  madeYesNo,
  placed,
  searchAll,
  withAnswer,
  withCommon,
  withoutAnswer,
} from '@/screens/data/bring/stack/useHarmony'
import { api } from './api'
import { brought, edit, entriesOf, router } from './brought'
import { entry } from './entries'

beforeEach(() => {
  api.POST.mockImplementation((path: string) =>
    Promise.resolve(path.endsWith('/alike') ? brought('Both rounds').alike : undefined),
  )
})

const stack = () => brought('Both rounds').recipe as Stack
const common = (name: string) => stack().variables.find((each) => each.name === name)!
const placedAt = (of: CommonVariable, at: number) => of.taken[at]?.placed

describe('common variables', () => {
  it('take an answer elsewhere, set it aside, or let it be placed again', () => {
    const source = common('source')
    expect(placedAt(source, 1)!['9']).toBeUndefined()
    const aside = placed(source, 1, '9', null)
    expect(placedAt(aside, 1)!['9']).toBeNull()
    expect(placedAt(placed(aside, 1, '9', 'well'), 1)!['9']).toBe('well')
    expect('9' in placedAt(placed(aside, 1, '9', undefined), 1)!).toBe(false)
    expect(placedAt(aside, 0)).toEqual(placedAt(source, 0))
  })

  it('lose what was placed at an answer that goes, and keep the rest', () => {
    const without = withoutAnswer(common('source'), 'piped')
    expect(without.categories.map(({ value }) => value)).toEqual(['well', 'river', 'bottled'])
    expect(without.reference).toBeNull()
    expect(Object.values(placedAt(without, 1)!)).toEqual(['well', 'river', 'bottled'])
  })

  it('are made yes or no with everything placed where it belongs', () => {
    const bad = madeYesNo(placed(common('source'), 1, '9', null), ['river', 'well'])
    expect(bad.event).toEqual(['yes'])
    expect(placedAt(bad, 0)).toEqual({ 1: 'no', 2: 'yes', 3: 'yes', 4: 'yes', 5: 'no' })
    expect(placedAt(bad, 1)!['9']).toBeNull()
  })

  it('are cut into bands that say their lower ends', () => {
    const bands = madeBands(common('age'), [30, 60])
    expect(bands.categories.map(({ label }) => label)).toEqual([
      'under 30',
      '30 to under 60',
      '60 and over',
    ])
    expect(bands.kind).toBe('ordinal')
  })

  it('are named apart, renamed, added and taken out', () => {
    expect(freeCommonName(stack(), 'ill')).toBe('ill_2')
    expect(freeCommonName(stack(), 'weight')).toBe('weight_2')
    expect(withAnswer(common('ill'), 'Ja', 'yes').categories[0]).toEqual({
      value: 'yes',
      label: 'Ja',
    })
    expect(withAnswer(common('ill'), 'Perhaps').categories).toHaveLength(3)
    expect(withCommon(stack(), 0, undefined).variables).toHaveLength(stack().variables.length - 1)
  })

  it('are searched for in names, labels, answers and units of all data sets', () => {
    const books = brought('Both rounds').sources.map(({ codebook }) => entriesOf(codebook))
    const named = (typed: string) =>
      searchAll(books, typed).map(({ at, entry: e }) => [at, e.variable.name])
    expect(named('stomach')).toEqual(
      expect.arrayContaining([
        [0, 'ill'],
        [1, 'q09_stomach'],
      ]),
    )
    expect(searchAll(books, 'yard')[0]!.by).toBe('answer “Yard tap”')
    expect(searchAll(books, 'months')[0]!.entry.variable.name).toBe('q01_age_months')
    expect(named(' ')).toEqual([])
  })
})

describe('the harmonising table', () => {
  const rowsOf = (wrapper: ReturnType<typeof edit>['wrapper']) =>
    wrapper
      .findAll('.harmony tbody tr')
      .map((row) => row.findAll('[role="button"]').map((each) => each.text()))

  async function atSource() {
    const shown = edit<Stack>('Both rounds')
    await flushPromises()
    await shown.wrapper.findAll('.common')[1]!.trigger('click')
    return shown
  }

  it('shows each answer with its rows, and in the open what is not placed yet', async () => {
    const { wrapper } = await atSource()
    expect(rowsOf(wrapper)[0]).toEqual(['Piped 966', 'House tap 925', 'Yard tap 376'])
    expect(rowsOf(wrapper)[5]).toEqual(['Other 28'])
    expect(wrapper.text()).toContain('Not placed yet in Round two: “Other” (28)')
    expect(wrapper.findAll('.common')[1]!.text()).toContain('28 not placed yet')
  })

  it('moves an answer with the number of a common one, 0 and Backspace', async () => {
    const { wrapper, changed } = await atSource()
    const other = wrapper
      .findAll('[role="button"]')
      .find((each) => each.text().startsWith('Other'))!
    await other.trigger('keydown', { key: '2' })
    expect(placedAt(changed.at(-1)!.variables[1]!, 1)!['9']).toBe('well')
    await other.trigger('keydown', { key: '0' })
    expect(placedAt(changed.at(-1)!.variables[1]!, 1)!['9']).toBeNull()
    await other.trigger('keydown', { key: 'Backspace' })
    expect('9' in placedAt(changed.at(-1)!.variables[1]!, 1)!).toBe(false)
    await other.trigger('keydown', { key: '7' })
    expect(changed).toHaveLength(3)
  })

  it('moves an answer by dragging it, but not into another data set', async () => {
    const { wrapper, changed } = await atSource()
    const kept: Record<string, string> = {}
    const dataTransfer = {
      setData: (kind: string, text: string) => (kept[kind] = text),
      getData: (kind: string) => kept[kind] ?? '',
    }
    const other = wrapper
      .findAll('[role="button"]')
      .find((each) => each.text().startsWith('Other'))!
    await other.trigger('dragstart', { dataTransfer })
    const cells = wrapper.findAll('.harmony tbody tr')[2]!.findAll('td')
    await cells[0]!.trigger('drop', { dataTransfer })
    expect(changed).toHaveLength(0)
    await cells[1]!.trigger('drop', { dataTransfer })
    expect(placedAt(changed[0]!.variables[1]!, 1)!['9']).toBe('river')
  })

  it('multiplies numbers by a factor, and refuses one that is none', async () => {
    const { wrapper, changed } = edit<Stack>('Both rounds')
    await flushPromises()
    await wrapper.findAll('.common')[3]!.trigger('click')
    const factor = wrapper.find<HTMLInputElement>('input[aria-label="Factor for Round two"]')
    await factor.setValue('0,1')
    expect(changed.at(-1)!.variables[3]!.taken[1]!.factor).toBe(0.1)
    const before = changed.length
    await factor.setValue('x')
    expect(changed.slice(before).map((each) => each.variables[3]!.taken)).toEqual([])
    expect(factor.element.value).toBe('0.1')
  })

  it('offers what may be the same, and adds it as the server proposes', async () => {
    const { wrapper, changed } = edit<Stack>('Both rounds')
    await flushPromises()
    const offers = wrapper.findAll('[aria-label="May be the same"] .offer')
    const offer = offers.find((each) => each.text().includes('village · village'))!
    const proposal = { ...common('sex'), name: 'village' }
    api.POST.mockResolvedValueOnce(proposal)
    await offer.find('button').trigger('click')
    await flushPromises()
    const proposed = api.POST.mock.calls.filter(([path]) => String(path).endsWith('/proposed'))
    expect(proposed.at(-1)![1].body).toMatchObject({
      name: 'village',
      variables: ['village', 'village'],
    })
    expect(changed[0]!.variables.at(-1)!.name).toBe('village')
  })

  it('lets a reader look, not move', async () => {
    const { wrapper } = edit<Stack>('Both rounds', { mayChange: false })
    await flushPromises()
    expect(wrapper.find('[draggable="true"]').exists()).toBe(false)
    expect(wrapper.text()).not.toContain('Make it yes/no')
  })
})

describe('matching, one row per case and groups', () => {
  it('says in a sentence what must be equal, and who finds no partner', async () => {
    const { wrapper, changed, sent } = edit<Match>('Round one with villages')
    expect(wrapper.find('.pair').text().replace(/\s+/g, ' ')).toBe(
      'Where Village of Round one is Village of Villages',
    )
    expect(wrapper.text()).toContain(
      `${sent.look.match!.matched.toLocaleString('en')} of 2,412 rows`,
    )
    expect(wrapper.text()).toContain('1 row of Villages is not used: X01')
    await wrapper.find('.offered input').setValue(false)
    expect(changed[0]!.take).toEqual(['people', 'river_km'])
    const more = wrapper.findAll('button').find((each) => each.text() === '+ and another variable')!
    await more.trigger('click')
    expect(changed[1]!.keys).toHaveLength(2)
    expect(isComplete(changed[1]!)).toBe(false)
  })

  it('shows how many are left per condition, and marks those that are few', async () => {
    const { wrapper, sent } = edit<GroupsToCompare>('Affected and unaffected')
    const rows = wrapper.findAll('.condition')[0]!.findAll('tbody tr')
    const counts = sent.look.groups!.conditions[0]!.counts
    expect(rows[0]!.findAll('td').map((cell) => Number(cell.text()))).toEqual([
      counts[0]![0],
      counts[1]![0],
    ])
    expect(wrapper.findAll('.few')).toHaveLength(
      sent.look.groups!.conditions.flatMap(({ few }) => few.flat()).filter(Boolean).length,
    )
  })

  it('changes when a group holds, and which row counts', async () => {
    const { wrapper, changed } = edit<GroupsToCompare>('Affected and unaffected')
    const [when, row] = wrapper.findAll('.group')[0]!.findAll('select')
    await row!.setValue('3')
    expect(changed[0]!.groups[0]).toMatchObject({ row: 'last', of_meeting: true })
    await when!.setValue('never')
    expect(changed[1]!.groups[0]).toMatchObject({ holds: 'never', of_meeting: false })
  })

  it('starts groups that are not complete, and looks at nothing until they are', () => {
    expect(isComplete(newGroups())).toBe(false)
    const where = { all: [{ variable: 'ill', is: ['yes'] }] }
    const groups = ['a', 'b'].map((name) => ({ ...newGroup(name), where }))
    expect(isComplete({ ...newGroups(), groups } as GroupsToCompare)).toBe(true)
    expect(
      isComplete({ ...newGroups(), groups: [groups[0]!, newGroup('b')] } as GroupsToCompare),
    ).toBe(false)
  })

  it('starts a match with the variable that both have', () => {
    const [here, there] = [[entry('x', []), entry('id', [])], [entry('id', [])]]
    expect(newMatch(here, there).keys).toEqual([{ here: 'id', there: 'id' }])
    expect(newMatch(here, []).keys).toEqual([{ here: '', there: '' }])
  })

  it('makes numbers of all rows of a case', async () => {
    const { wrapper, changed } = editOne()
    await wrapper.find('select[aria-label="Which row"]').setValue('first')
    expect(changed[0]!.row).toBe('first')
    expect(wrapper.text()).toContain('Of each household')
  })
})

/** One row per case is not in the demo: on the data of its visits. */
function editOne() {
  const sent = brought('All visits')
  const changed: OnePerCase[] = []
  const recipe: OnePerCase = { recipe: 'one_per_case', row: 'last', where: null, made: [] }
  const [source] = sent.sources
  const wrapper = mount(OnePerCaseEditor, {
    props: {
      study: { id: 's1' } as never,
      recipe,
      sources: [{ ...source, id: 'd0' } as never as DataSet],
      codebooks: [entriesOf(source!.codebook)],
      look: { rows: 430, findings: [], common: [], match: null, groups: null },
      problem: null,
      mayChange: true,
      onChange: (next: OnePerCase) => changed.push(next),
    },
    global: { plugins: [createVuetify()] },
  })
  return { wrapper, changed }
}

describe('the road', () => {
  const dataset = (id: string, sources?: string[], behind: string[] = []) =>
    ({
      id,
      name: id,
      rows: 10,
      made: sources && { recipe: 'stack', sources, behind, trouble: '', findings: [] },
    }) as unknown as DataSet

  const all = [
    dataset('a'),
    dataset('b'),
    dataset('c'),
    dataset('ab', ['a', 'b']),
    dataset('g', ['ab'], ['ab']),
  ]

  it('stands in the order in which things are made, without what has no part in it', () => {
    expect(roadOf(all, 'a').map((level) => level.map(({ id }) => id))).toEqual([
      ['a', 'b'],
      ['ab'],
      ['g'],
    ])
    expect(roadOf(all, 'c')).toHaveLength(1)
  })

  it('leads to how something is made, and shows what is behind', async () => {
    const shown = mount(Road, {
      props: { study: { id: 's1' } as never, datasets: all, current: 'ab' },
      global: { plugins: [router()] },
    })
    const boxes = shown.findAll('.box')
    expect(boxes.map((box) => box.attributes('href'))).toEqual([
      '/data/s1/a',
      '/data/s1/b',
      '/made/s1/ab',
      '/made/s1/g',
    ])
    expect(boxes[2]!.attributes('aria-current')).toBe('page')
    expect(boxes[3]!.classes()).toContain('behind')
  })

  it('says nothing where nothing is made', () => {
    const shown = mount(Road, {
      props: { study: { id: 's1' } as never, datasets: all.slice(0, 3) },
      global: { plugins: [router()] },
    })
    expect(shown.find('nav').exists()).toBe(false)
  })

  it('names stacked data sets apart', () => {
    expect(newStack([dataset('a'), { ...dataset('b'), name: 'a' }]).names).toEqual(['a', 'a (2)'])
  })
})

describe('findings', () => {
  it('say with a word how they stand', () => {
    const shown = mount(FindingList, { props: { findings: [{ status: 'care', text: 'Look' }] } })
    expect(shown.find('[role="img"]').attributes('aria-label')).toBe('Take care')
    expect(shown.text()).toContain('Look')
  })
})
