'use client'
import { useEffect, useRef } from 'react'
import SignaturePad from 'signature_pad'
import { Button } from '../../kit/Button'

const wide = 1000
const tall = 300

/** A field to sign in, with a finger, a pen or the mouse; its strokes are of 1000 by 300, whatever its size. */
export function Signature({ onSigned }: { onSigned: (strokes: number[][]) => void }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const pad = useRef<SignaturePad>(null)
  const told = useRef(onSigned)
  useEffect(() => {
    told.current = onSigned
  })
  useEffect(() => {
    const field = canvas.current
    if (!field) return
    // As many dots as it is large: strokes land where the finger is.
    const { width, height } = field.getBoundingClientRect()
    field.width = width
    field.height = height
    const made = new SignaturePad(field, { penColor: getComputedStyle(field).color })
    pad.current = made
    made.addEventListener('endStroke', () =>
      told.current(
        made
          .toData()
          .map(({ points }) =>
            points.flatMap(({ x, y }) => [within((x / width) * wide, wide), within((y / height) * tall, tall)]),
          ),
      ),
    )
    return () => made.off()
  }, [])
  return (
    <div className="grid gap-1">
      <span className="text-small text-soft">Signature</span>
      <canvas
        ref={canvas}
        aria-label="Sign here"
        role="img"
        className="aspect-[10/3] w-full touch-none border border-hair bg-sheet text-ink"
      />
      <Button
        kind="quiet"
        className="justify-self-start"
        onClick={() => {
          pad.current?.clear()
          onSigned([])
        }}
      >
        Sign again
      </Button>
    </div>
  )
}

const within = (value: number, most: number): number => Math.max(0, Math.min(most, Math.round(value)))
