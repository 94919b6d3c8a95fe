'use client'
import { useState } from 'react'
import { type ColumnChoice, usualColumns } from '../kit/grid/columns'
import { useInBrowser } from '../kit/useInBrowser'

const place = 'gharry.desk.columns'

function kept(): ColumnChoice {
  try {
    const found = JSON.parse(localStorage.getItem(place) ?? 'null') as Partial<ColumnChoice> | null
    return found && Array.isArray(found.hidden) && Array.isArray(found.order)
      ? { ...usualColumns, ...found }
      : usualColumns
  } catch {
    return usualColumns
  }
}

/** The columns of the Desk as they were chosen last in this browser. */
export function useKeptColumns(): readonly [ColumnChoice, (next: ColumnChoice) => void] {
  const browser = useInBrowser()
  const [choice, setChoice] = useState<ColumnChoice | null>(null)
  const keep = (next: ColumnChoice): void => {
    setChoice(next)
    try {
      localStorage.setItem(place, JSON.stringify(next))
    } catch {
      // A browser that keeps nothing shows them as usual the next time.
    }
  }
  return [choice ?? (browser ? kept() : usualColumns), keep]
}
