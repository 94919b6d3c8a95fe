import type { ReactNode } from 'react'
import { PartsNav } from './PartsNav'
import { ScreenHead } from './Screen'

/** A surface of a stop: its identifier, its address, its name. */
export type StopPart = readonly [id: string, href: string, name: string]

/** The head of a stop with its surfaces; `of` is how the stop is called in a sentence. */
export function PartsHead<Parts extends readonly StopPart[]>({
  title,
  of = title,
  parts,
  at,
  about,
  children,
}: {
  title: string
  of?: string
  parts: Parts
  at: Parts[number][0]
  about: ReactNode
  children?: ReactNode
}) {
  return (
    <ScreenHead title={title} about={about}>
      {children}
      <PartsNav of={of} parts={parts} at={at} />
    </ScreenHead>
  )
}
