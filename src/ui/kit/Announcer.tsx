'use client'
import { useEffect, useRef, useState, type RefObject } from 'react'

const pause = 1200
let tell: ((text: string) => void) | undefined

/**
 * The one place from which screen readers hear what a screen says while one types: after a pause of typing, and each
 * result once. What is shown changes at every key, and is no announcement of its own.
 */
export function Announcer() {
  const [text, setText] = useState('')
  useEffect(() => {
    tell = setText
    return () => {
      tell = undefined
    }
  }, [])
  return (
    <p role="status" aria-label="Announcements" className="sr-only">
      {text}
    </p>
  )
}

/** Announces what an element says once it has been the same for a while. */
export function useAnnounced<T extends HTMLElement>(): RefObject<T | null> {
  const element = useRef<T>(null)
  const said = useRef('')
  useEffect(() => {
    const timer = setTimeout(() => {
      const text = element.current?.textContent.trim() ?? ''
      if (text === '' || text === said.current) return
      said.current = text
      tell?.(text)
    }, pause)
    return () => clearTimeout(timer)
  })
  return element
}
