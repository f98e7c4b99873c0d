import { describe, expect, it } from 'vitest'

import { adjust, grown, labelsIn } from '@/parts/figures'
import { ofRows, withoutLayer } from '@/screens/ask/answer/pictures'

const picture = {
  width: 200,
  height: 100,
  layer: [
    {
      data: { values: [{ label: 'River', answer: 'Ill', share: 40, text: 'River: 40% Ill' }] },
      encoding: {
        color: { field: 'answer', scale: { domain: ['Ill'] } },
        x: { field: 'share', scale: { domain: [0, 100] } },
      },
    },
    { data: { values: [{ label: 'River', y: 0.5 }, { label: 'Tank' }] }, encoding: {} },
  ],
}
const asItIs = { title: '', size: 100, palette: '', labels: {} }

it('lists the labels of a picture once each', () => {
  expect(labelsIn(picture)).toEqual(['River', 'Ill', 'Tank'])
})

it('writes other words where a label stands, and nowhere else', () => {
  const drawn = adjust(picture, { ...asItIs, labels: { River: 'From the river', Ill: 'Sick' } })
  const layers = drawn.layer as typeof picture.layer
  expect(layers[0]!.data.values[0]).toMatchObject({
    label: 'From the river',
    answer: 'Sick',
    text: 'River: 40% Ill',
  })
  expect(layers[0]!.encoding).toMatchObject({
    color: { field: 'answer', scale: { domain: ['Sick'] } },
    x: { field: 'share', scale: { domain: [0, 100] } },
  })
  expect(labelsIn(drawn)).toEqual(['From the river', 'Sick', 'Tank'])
})

it('keeps a label whose other words are blank, and scales only the frame', () => {
  const drawn = adjust(picture, { ...asItIs, title: 'Mine', size: 200, labels: { River: '  ' } })
  expect(labelsIn(drawn)).toEqual(labelsIn(picture))
  expect(drawn).toMatchObject({ title: 'Mine', width: 400, height: 200 })
})

it('takes a title and a size without touching the original', () => {
  const spec = { width: 100, height: 50, layer: [] }
  expect(adjust(spec, { title: 'T', size: 140, palette: '', labels: {} })).toEqual({
    ...spec,
    title: 'T',
    width: 140,
    height: 70,
  })
  expect(adjust(spec, { title: '', size: 100, palette: 'grey', labels: {} })).toEqual(spec)
  expect(spec.width).toBe(100)
})

describe('room', () => {
  const spec = { width: 300, usermeta: { beside: 120 }, layer: [] }
  it('is taken in steps by pictures that may grow, up to where they say no more', () => {
    expect(grown(spec, 420).width).toBe(300)
    expect(grown(spec, 475).width).toBe(340)
    expect(grown(spec, 3000).width).toBe(620)
  })
  it('too small changes nothing, and neither does a picture with a size of its own', () => {
    expect(grown(spec, 200).width).toBe(300)
    expect(grown({ width: 300, layer: [] }, 900).width).toBe(300)
  })
})

it('leaves out layers by name and keeps those without one', () => {
  const spec = { width: 3, layer: [{ name: 'bars' }, { name: 'intervals' }, { mark: 'text' }] }
  expect(withoutLayer(spec, ['intervals', ''])).toEqual({
    width: 3,
    layer: [{ name: 'bars' }, { mark: 'text' }],
  })
})

it('follows the order of the table, page by page', () => {
  const values = ['a', 'b', 'c'].map((value, at) => ({ at, value }))
  const spec = { height: 72, data: { values } }
  expect(ofRows(spec, ['c', 'a', 'b'])).toEqual({
    height: 72,
    data: { values: ['c', 'a', 'b'].map((value, at) => ({ at, value })) },
  })
  expect(ofRows(spec, ['b'])).toEqual({ height: 24, data: { values: [{ at: 0, value: 'b' }] } })
  expect(values.map(({ at }) => at)).toEqual([0, 1, 2])
})
