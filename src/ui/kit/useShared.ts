'use client'
import { replaceEqualDeep } from '@tanstack/react-query'
import { useState } from 'react'

/**
 * The value, with every part that is as it was before being the same object as before: what hangs on a part is not
 * drawn again. Plain JSON only.
 */
export function useShared<T>(value: T): T {
  const [known, setKnown] = useState(value)
  const shared = replaceEqualDeep(known, value)
  if (shared !== known) setKnown(shared)
  return shared
}
