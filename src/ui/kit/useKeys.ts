'use client'
import { useEffect, useRef } from 'react'
import { singleKeys } from './singleKeys'

/**
 * Keys of a screen: `{ '/': focusSearch, 'mod+z': undo }`. Typing in a field is left alone, except for keys with mod. A
 * dialog that is open has all keys for itself, and keys of one sign can be switched off.
 */
export function useKeys(keys: Readonly<Record<string, (event: KeyboardEvent) => void>>): void {
  const current = useRef(keys)
  useEffect(() => {
    current.current = keys
  })
  useEffect(() => {
    const listen = (event: KeyboardEvent): void => {
      const target = event.target as HTMLElement
      const typing =
        target.isContentEditable ||
        /^(TEXTAREA|SELECT)$/.test(target.tagName) ||
        (target instanceof HTMLInputElement && target.type !== 'checkbox')
      const mod = event.ctrlKey || event.metaKey
      const name = `${mod ? 'mod+' : ''}${event.altKey ? 'alt+' : ''}${event.key}`
      const work = current.current[name]
      if (name.length === 1 && !singleKeys.on()) return
      // Undo in a field is the field's.
      const field = typing && (mod ? /^[zyZ]$/.test(event.key) : event.key !== 'Escape')
      if (!work || field) return
      if (document.querySelector('[role="dialog"][aria-modal="true"]')) return
      work(event)
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  }, [])
}
