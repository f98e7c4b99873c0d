import { expect, it } from 'vitest'

import { adjust, labelsIn } from '@/parts/figures'

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
