'use client'
import { useEffect, useState } from 'react'
import type { PrintProfile } from '@/usecases/dispatch/printBatch'

const key = 'gharry.print'
const usual: PrintProfile = { layout: 'thermal', start: 1, format: 'pdf', dpi: 203, parts: 'both', sort: 'batch' }

/** How this station prints; kept in its browser. The start place of a sheet is asked for each time. */
export function usePrintProfile(): { profile: PrintProfile; put: (more: Partial<PrintProfile>) => void } {
  const [profile, setProfile] = useState(usual)
  useEffect(() => {
    try {
      setProfile({ ...usual, ...(JSON.parse(localStorage.getItem(key) ?? '{}') as Partial<PrintProfile>), start: 1 })
    } catch {
      // A profile that cannot be read is none.
    }
  }, [])
  const put = (more: Partial<PrintProfile>): void => {
    const next = { ...profile, ...more }
    setProfile(next)
    localStorage.setItem(key, JSON.stringify(next))
  }
  return { profile, put }
}
