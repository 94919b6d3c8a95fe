'use client'
import { useEffect, useState, type RefObject } from 'react'

/** Rows within so many pixels above and below what is in view are drawn. */
const margin = 800
type Tell = (near: boolean, height: number) => void
const watchers = new WeakMap<Element, { observer: IntersectionObserver; tell: WeakMap<Element, Tell> }>()

function watcherOf(scroller: Element) {
  const known = watchers.get(scroller)
  if (known) return known
  const tell = new WeakMap<Element, Tell>()
  const observer = new IntersectionObserver(
    (entries) => {
      for (const { target, isIntersecting, boundingClientRect } of entries)
        tell.get(target)?.(isIntersecting, boundingClientRect.height)
    },
    { root: scroller, rootMargin: `${margin}px 0px` },
  )
  const made = { observer, tell }
  watchers.set(scroller, made)
  return made
}

/**
 * Whether a row is near to what is in view: of hundreds of rules only these are drawn. One that has the focus stays.
 * `first` is what it is until that is known. What is not drawn takes the room that it took (`height`).
 */
export function useNear(row: RefObject<HTMLElement | null>, first: boolean): { near: boolean; height: number } {
  const [state, setState] = useState({ near: first, height: 60 })
  useEffect(() => {
    const element = row.current
    const scroller = element?.closest('[data-scroller]')
    if (!element || !scroller) return
    const { observer, tell } = watcherOf(scroller)
    tell.set(element, (near, height) => setState({ near: near || element.contains(document.activeElement), height }))
    observer.observe(element)
    return () => observer.unobserve(element)
  }, [row])
  return state
}
