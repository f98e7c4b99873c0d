/** Pictures come whole from the server; parts of them can be left out. */
import type { FigureSpec } from '@/api/types'

/** The picture without the layers of these names. */
export function withoutLayer(spec: FigureSpec, names: string[]): FigureSpec {
  const layers = spec.layer as { name?: string }[]
  return { ...spec, layer: layers.filter(({ name }) => !name || !names.includes(name)) }
}

interface Placed {
  at: number
  value: string
}

/** The picture with its groups in another order; those it does not hold are passed over. */
export function inOrder(spec: FigureSpec, values: string[]): FigureSpec {
  const data = spec.data as { values: Placed[] }
  const held = values.filter((value) => data.values.some((each) => each.value === value))
  const placed = data.values.map((each) => ({ ...each, at: held.indexOf(each.value) }))
  return { ...spec, data: { ...data, values: placed } }
}
