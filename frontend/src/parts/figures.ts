/** Pictures as people want them: another title, size or palette, and as files. */
import type { FigureSpec } from '@/api/types'

export interface Adjusted {
  title: string
  /** In percent of the size it comes with. */
  size: number
  palette: string
}

/** The specification with a title and a size of its own; text keeps its size. */
export function adjust(spec: FigureSpec, { title, size }: Adjusted): FigureSpec {
  const scaled = (value: unknown) =>
    typeof value === 'number' ? Math.round((value * size) / 100) : value
  return {
    ...spec,
    ...(title ? { title } : {}),
    ...(size === 100 ? {} : { width: scaled(spec.width), height: scaled(spec.height) }),
  }
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
