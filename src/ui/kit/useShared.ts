'use client'
import { replaceEqualDeep } from '@tanstack/react-query'
import { useRef } from 'react'

/**
 * The value, with every part that is as it was before being the same object as before: what hangs on a part is not
 * drawn anew. Plain JSON only.
 */
export function useShared<T>(value: T): T {
  const known = useRef(value)
  known.current = replaceEqualDeep(known.current, value)
  return known.current
}
