import type { Size } from '@/core/units'

const wide = 190
const high = 150
// A box seen from above its corner: how far right and up a millimetre of depth goes.
const [right, up] = [0.45, 0.32]

/** A box in its proportions (millimetres), as large as the picture has room for. */
export function BoxPicture({ size, label }: { size: Size; label: string }) {
  const scale = Math.min((wide - 4) / (size[0] + size[1] * right), (high - 8) / (size[2] + size[1] * up))
  const [w, d, h] = size.map((side) => side * scale) as [number, number, number]
  const [dx, dy] = [d * right, d * up]
  const left = (wide - w - dx) / 2
  const floor = high - 4
  const front = `M${left},${floor} h${w} v${-h} h${-w} z`
  const top = `M${left},${floor - h} l${dx},${-dy} h${w} l${-dx},${dy} z`
  const side = `M${left + w},${floor} l${dx},${-dy} v${-h} l${-dx},${dy} z`
  return (
    <svg viewBox={`0 0 ${wide} ${high}`} width={wide} height={high} role="img" aria-label={label}>
      <g className="stroke-ink" strokeWidth={1.2} strokeLinejoin="round">
        <path d={front} className="fill-tint" />
        <path d={top} className="fill-sheet" />
        <path d={side} className="fill-act-soft" />
      </g>
    </svg>
  )
}
