'use client'
import type { Mark, Page } from '@/core/papers'

/** A page of paper on the screen, as it will be printed. */
export function PageView({ page, width, label }: { page: Page; width: number; label: string }) {
  return (
    <svg
      role="img"
      aria-label={label}
      width={width}
      height={(width * page.height) / page.width}
      viewBox={`0 0 ${page.width} ${page.height}`}
      className="border border-hair bg-white text-black"
    >
      {page.marks.map((mark, i) => (
        <Shape key={i} mark={mark} />
      ))}
    </svg>
  )
}

let canvas: CanvasRenderingContext2D | null | undefined

/** How wide a text is on the screen, in the units of its size. */
function widthOf(text: string, size: number, bold: boolean): number {
  canvas ??= document.createElement('canvas').getContext('2d')
  if (!canvas) return 0
  canvas.font = `${bold ? 700 : 400} 100px ${getComputedStyle(document.body).fontFamily}`
  return (canvas.measureText(text).width * size) / 100
}

/** Where each bar and each gap of a bar code begins. */
function startsOf(left: number, widths: readonly number[], module: number): number[] {
  let at = left
  return widths.map((width) => {
    const start = at
    at += width * module
    return start
  })
}

const anchors = { left: 'start', center: 'middle', right: 'end' } as const
const shares = { start: 0, middle: 0.5, end: 1 } as const

function Shape({ mark }: { mark: Mark }) {
  switch (mark.kind) {
    case 'line':
      return <line x1={mark.x1} y1={mark.y1} x2={mark.x2} y2={mark.y2} stroke="#000" strokeWidth={mark.weight} />
    case 'block':
      return <rect x={mark.x} y={mark.y} width={mark.width} height={mark.height} fill="#000" />
    case 'bars': {
      const places = startsOf(mark.x, mark.widths, mark.module)
      return (
        <>
          {mark.widths.map((width, i) =>
            i % 2 === 0 ? (
              <rect key={i} x={places[i]} y={mark.y} width={width * mark.module} height={mark.height} fill="#000" />
            ) : null,
          )}
        </>
      )
    }
    case 'text': {
      const size = (mark.size * 25.4) / 72
      const anchor = anchors[mark.align ?? 'left']
      const x = mark.x + mark.width * shares[anchor]
      const tooWide = widthOf(mark.text, size, mark.bold ?? false) > mark.width
      return (
        <text
          x={x}
          y={mark.y + size * 0.93}
          fontSize={size}
          fontWeight={mark.bold ? 700 : 400}
          textAnchor={anchor}
          fill={mark.inverse ? '#fff' : '#000'}
          style={{ fontFamily: mark.mono ? 'var(--font-mono)' : undefined }}
          {...(tooWide ? { textLength: mark.width, lengthAdjust: 'spacingAndGlyphs' as const } : {})}
        >
          {mark.text}
        </text>
      )
    }
  }
}
