'use client'
import { useEffect } from 'react'

const focusable =
  'a[href],button:not([disabled]),input:not([disabled]),select:not([disabled]),textarea:not([disabled]),summary,[tabindex="0"]'

/** A button that is switched off while it works is given this long to come back. */
const working = 600

/**
 * The focus is never lost: when what has it goes away (a row that is deleted, an editor that is closed), it goes to
 * what has come in its place, or else to what is nearest around it. What is switched off has it again when it is on
 * again; if that takes long, the nearest has it.
 */
export function FocusKeeper() {
  useEffect(() => {
    // From the element that had it last up to the screen, each with its place among its siblings.
    let way: { readonly element: HTMLElement; readonly place: number }[] = []
    const remember = (event: FocusEvent): void => {
      const had = event.target as HTMLElement
      const screen = had.closest<HTMLElement>('main')
      if (!screen) return
      way = []
      for (let element = had; element !== screen && element.parentElement; element = element.parentElement)
        way.push({ element, place: [...element.parentElement.children].indexOf(element) })
      way.push({ element: screen, place: 0 })
    }
    const keep = (): void => {
      if (document.activeElement !== document.body || way[0]?.element.isConnected !== false) return
      const at = way.findIndex(({ element }) => element.isConnected)
      const around = way[at]?.element
      if (!around) return
      const { place } = way[at - 1]!
      way = []
      if (around.tagName === 'MAIN') return around.focus()
      nearest(around, place).focus({ preventScroll: true })
    }
    const keepFromOff = (): void => {
      const [last, around] = way
      if (document.activeElement !== document.body || !last?.element.isConnected || !around) return
      if (!last.element.matches(':disabled')) last.element.focus({ preventScroll: true })
      else nearest(around.element, last.place).focus({ preventScroll: true })
    }
    let waits: ReturnType<typeof setTimeout> | undefined
    const watcher = new MutationObserver((changes) => {
      requestAnimationFrame(keep)
      const last = way[0]?.element
      const off = last?.matches(':disabled') ?? false
      if (!off && !changes.some(({ target, type }) => type === 'attributes' && target === last)) return
      clearTimeout(waits)
      waits = setTimeout(keepFromOff, off ? working : 0)
    })
    watcher.observe(document.body, { childList: true, subtree: true, attributeFilter: ['disabled'] })
    document.addEventListener('focusin', remember)
    return () => {
      watcher.disconnect()
      clearTimeout(waits)
      document.removeEventListener('focusin', remember)
    }
  }, [])
  return null
}

/** What can have the focus within `around`, from its child at `place` on, or else before; or `around` itself. */
function nearest(around: HTMLElement, place: number): HTMLElement {
  const children = [...around.children]
  const inside = (child: Element): HTMLElement[] => [
    ...(child.matches(focusable) ? [child as HTMLElement] : []),
    ...child.querySelectorAll<HTMLElement>(focusable),
  ]
  const seen = (element: HTMLElement): boolean => element.checkVisibility({ visibilityProperty: true })
  const after = children.slice(place).flatMap(inside).find(seen)
  const before = children.slice(0, place).flatMap(inside).filter(seen)
  const found = after ?? before[before.length - 1]
  if (found) return found
  if (!around.hasAttribute('tabindex')) around.tabIndex = -1
  return around
}
