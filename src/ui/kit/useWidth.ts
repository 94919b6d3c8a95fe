'use client'
import { useEffect, useState, type RefObject } from 'react'

/** How wide an element is, in pixels; `first` until it is there. */
export function useWidth(element: RefObject<HTMLElement | null>, first: number): number {
  const [width, setWidth] = useState(first)
  useEffect(() => {
    const watched = element.current
    if (!watched) return
    const watcher = new ResizeObserver(([entry]) => setWidth(Math.floor(entry!.contentRect.width)))
    watcher.observe(watched)
    return () => watcher.disconnect()
  }, [element])
  return width
}
