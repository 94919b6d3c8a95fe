'use client'
import { useSyncExternalStore } from 'react'

const never = (): (() => void) => () => {}

/** False for the first drawing, which the server makes too: for what the browser knows otherwise than the server. */
export const useInBrowser = (): boolean =>
  useSyncExternalStore(
    never,
    () => true,
    () => false,
  )
