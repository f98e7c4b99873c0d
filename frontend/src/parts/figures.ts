/** Pictures as people want them: another title, size or palette, and as files. */
import type { FigureSpec } from '@/api/types'

export interface Adjusted {
  title: string
  /** In percent of the size it comes with. */
  size: number
  palette: string
  /** Other words for labels, by the label they stand for. */
  labels: Record<string, string>
}

const LABELLED = ['label', 'group', 'answer']
type Values = { values?: Record<string, unknown>[] }
type Layer = FigureSpec & { data?: Values; layer?: Layer[] }

function tables(spec: Layer): Record<string, unknown>[][] {
  return [...(spec.data?.values ? [spec.data.values] : []), ...(spec.layer ?? []).flatMap(tables)]
}

/** The labels a picture writes beside its marks, each once. */
export function labelsIn(spec: FigureSpec): string[] {
  const found = tables(spec as Layer)
    .flat()
    .flatMap((row) => LABELLED.map((field) => row[field]))
  return [...new Set(found.filter((label) => typeof label === 'string' && label))] as string[]
}

function relabelled<T>(part: T, labels: Record<string, string>, isWord = false): T {
  if (typeof part === 'string') return (isWord && labels[part]?.trim() ? labels[part] : part) as T
  if (Array.isArray(part)) return part.map((each) => relabelled(each, labels, isWord)) as T
  if (part === null || typeof part !== 'object') return part
  return Object.fromEntries(
    Object.entries(part).map(([key, value]) => [
      key,
      relabelled(value, labels, LABELLED.includes(key) || key === 'domain'),
    ]),
  ) as T
}

/** The specification with a title, labels and a size of its own; text keeps its size. */
export function adjust(spec: FigureSpec, { title, size, labels }: Adjusted): FigureSpec {
  const scaled = (value: unknown) =>
    typeof value === 'number' ? Math.round((value * size) / 100) : value
  return {
    ...relabelled(spec, labels),
    ...(title ? { title } : {}),
    ...(size === 100 ? {} : { width: scaled(spec.width), height: scaled(spec.height) }),
  }
}

// Wider than this a picture says no more.
const WIDEST = 620
const STEP = 20

/** The picture as wide as there is room, where it may grow: what stands beside it keeps its size. */
export function grown(spec: FigureSpec, room: number): FigureSpec {
  const { beside } = (spec.usermeta ?? {}) as { beside?: number }
  const least = spec.width as number
  if (beside === undefined || !room) return spec
  const fits = Math.floor((room - beside) / STEP) * STEP
  return fits > least ? { ...spec, width: Math.max(least, Math.min(fits, WIDEST)) } : spec
}

interface View {
  toSVG: () => Promise<string>
  toCanvas: (scale?: number) => Promise<HTMLCanvasElement>
}

/** Hand the picture to the browser as a file; a PNG at twice the size on screen. */
export async function saved(view: View, kind: 'svg' | 'png', name: string) {
  const blob =
    kind === 'svg'
      ? new Blob([await view.toSVG()], { type: 'image/svg+xml' })
      : await new Promise<Blob | null>((resolve) =>
          view.toCanvas(2).then((canvas) => canvas.toBlob(resolve, 'image/png')),
        )
  if (!blob) return
  const link = document.createElement('a')
  link.href = URL.createObjectURL(blob)
  link.download = `${name}.${kind}`
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
}
