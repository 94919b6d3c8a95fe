'use client'
import { Camera as CameraMark } from 'lucide-react'
import { useEffect, useRef, useState, type RefObject } from 'react'
import { Button } from '../kit/Button'
import { Camera } from './Camera'

/** A scanner types so fast; nobody else does. Milliseconds from one key to the next. */
const fast = 35
/** What was typed so fast and then stops is a whole code, though no Enter came. */
const settled = 90
const leastCode = 4

/**
 * Where scanners, keyboards, people and the camera type: Enter ends a code; of a scanner that sends none, the pause
 * does. It has the focus whenever nothing else asks for it.
 */
export function ScanField({
  ref,
  typed = null,
  held,
  words = 'Scan or type a code; a number alone is a quantity',
  onScan,
}: {
  ref: RefObject<HTMLInputElement | null>
  /** A quantity that counts for the next scan. */
  typed?: number | null
  /** Something else is asked: the focus stays there. */
  held: boolean
  /** What is awaited. */
  words?: string
  onScan: (text: string) => void
}) {
  const [text, setText] = useState('')
  const [camera, setCamera] = useState(false)
  const pace = useRef({ at: 0, slow: false, timer: 0 })
  useEffect(() => {
    const focus = (): void => {
      const { activeElement } = document
      if (!held && (activeElement === null || activeElement === document.body)) ref.current?.focus()
    }
    focus()
    // A touch on the page takes the focus away: it comes back.
    const timer = setInterval(focus, 400)
    return () => clearInterval(timer)
  }, [held, ref])
  const send = (code: string): void => {
    window.clearTimeout(pace.current.timer)
    pace.current = { at: 0, slow: false, timer: 0 }
    setText('')
    if (code.trim() !== '') onScan(code)
  }
  const change = (next: string): void => {
    const at = performance.now()
    const { current } = pace
    window.clearTimeout(current.timer)
    if (next.length > 1 && current.at > 0 && at - current.at > fast) current.slow = true
    if (next.length <= 1) current.slow = false
    current.at = at
    if (!current.slow && next.length >= leastCode) current.timer = window.setTimeout(() => send(next), settled)
    setText(next)
  }
  return (
    <>
      {camera && <Camera onScan={onScan} />}
      <form
        className="flex items-center gap-3 border-t border-hair bg-sheet px-4 py-3 max-[599px]:px-2"
        onSubmit={(event) => {
          event.preventDefault()
          send(text)
        }}
      >
        {typed !== null && (
          <b className="text-[26px] whitespace-nowrap text-wait tabular-nums">
            {typed} <span aria-hidden>×</span>
          </b>
        )}
        <input
          ref={ref}
          aria-label="Scan or type a code"
          placeholder={words}
          autoComplete="off"
          autoCapitalize="off"
          spellCheck={false}
          inputMode="text"
          className="min-w-0 flex-1 border border-hair bg-paper px-3 py-2.5 font-mono text-lead"
          value={text}
          onChange={(event) => change(event.target.value)}
        />
        <Button type="submit" className="py-2.5">
          Enter
        </Button>
        <Button
          kind="quiet"
          aria-label="Scan with the camera"
          aria-pressed={camera}
          className="py-2.5"
          onClick={() => setCamera(!camera)}
        >
          <CameraMark className="size-5" aria-hidden />
        </Button>
      </form>
    </>
  )
}
