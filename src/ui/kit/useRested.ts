'use client'
import { useEffect, useState } from 'react'

/** A text once it has not changed for a while, as when the keys rest; null until then. */
export function useRested(text: string | null, ms = 250): string | null {
  const [rested, setRested] = useState<string | null>(null)
  useEffect(() => {
    const timer = setTimeout(() => setRested(text), ms)
    return () => clearTimeout(timer)
  }, [text, ms])
  return rested
}
