'use client'
import { useSyncExternalStore } from 'react'

const place = 'gharry.single-keys'
const listeners = new Set<() => void>()

/**
 * Whether keys of one sign (`/`, `a`, `?`) do something; whoever speaks to the computer, or slips, switches them off.
 */
export const singleKeys = {
  on: (): boolean => {
    try {
      return localStorage.getItem(place) !== 'off'
    } catch {
      return true
    }
  },
  set: (on: boolean): void => {
    try {
      localStorage.setItem(place, on ? 'on' : 'off')
    } catch {
      // A browser that keeps nothing leaves them on.
    }
    for (const tell of listeners) tell()
  },
}

export const useSingleKeys = (): boolean =>
  useSyncExternalStore(
    (tell) => {
      listeners.add(tell)
      return () => listeners.delete(tell)
    },
    singleKeys.on,
    () => true,
  )
