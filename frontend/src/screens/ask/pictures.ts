/** Pictures come whole from the server; parts of them can be left out. */
import type { FigureSpec } from '@/api/types'

/** The picture without the layers of these names. */
export function withoutLayer(spec: FigureSpec, names: string[]): FigureSpec {
  const layers = spec.layer as { name?: string }[]
  return { ...spec, layer: layers.filter(({ name }) => !name || !names.includes(name)) }
}
