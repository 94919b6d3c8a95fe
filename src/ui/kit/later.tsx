'use client'
import { type ComponentType, useEffect, useLayoutEffect, useRef, useState } from 'react'

const againMs = 2000

/**
 * A part that is fetched once the screen is there; until then `Meanwhile` is in its place, which looks the same. Who has
 * the focus there keeps it.
 * @example const Facet = later(() => import('./FacetMenu').then((module) => module.FacetMenu), FacetButton)
 */
export function later<P extends object>(
  load: () => Promise<ComponentType<P>>,
  Meanwhile: ComponentType<P>,
): ComponentType<P> {
  let fetched: ComponentType<P> | undefined
  return function Later(props: P) {
    const [Part, setPart] = useState(() => fetched)
    const place = useRef<HTMLSpanElement>(null)
    const focused = useRef(false)
    useEffect(() => {
      if (Part) return
      let gone = false
      let timer: ReturnType<typeof setTimeout> | undefined
      const fetchIt = (): void =>
        void load().then(
          (part) => {
            fetched = part
            if (gone) return
            focused.current = place.current?.contains(document.activeElement) ?? false
            setPart(() => part)
          },
          () => void (timer = gone ? undefined : setTimeout(fetchIt, againMs)),
        )
      fetchIt()
      return () => {
        gone = true
        clearTimeout(timer)
      }
    }, [Part])
    useLayoutEffect(() => {
      if (Part && focused.current) place.current?.querySelector('button')?.focus()
      focused.current = false
    }, [Part])
    return (
      <span ref={place} className="contents">
        {Part ? <Part {...props} /> : <Meanwhile {...props} />}
      </span>
    )
  }
}
