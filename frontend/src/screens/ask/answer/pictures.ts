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

/** The picture of these of its rows alone, in this order, each as high as before. */
export function ofRows(spec: FigureSpec, values: string[]): FigureSpec {
  const data = spec.data as { values: Placed[] }
  const all = new Map(data.values.map((each) => [each.value, each]))
  const held = values.flatMap((value) => all.get(value) ?? [])
  const placed = held.map((each, at) => ({ ...each, at }))
  const height = ((spec.height as number) / all.size) * held.length
  return { ...spec, height, data: { ...data, values: placed } }
}
