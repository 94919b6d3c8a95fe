'use client'
import { ArrowLeft } from 'lucide-react'
import Link from 'next/link'
import type { Permission } from '@/core/people'
import { useMay } from '../kit/person'
import { PersonMenu } from '../people/PersonMenu'

/**
 * The way out of a screen of the floor: back to its stop, for whoever may see that; else who is here, and the other
 * screens.
 */
export function FloorBack({ to, name, needs = 'labels.see' }: { to: string; name: string; needs?: Permission }) {
  const may = useMay()
  return may(needs) ? (
    <Link href={to} aria-label={`Back to ${name}`} className="grid size-8 place-items-center text-act">
      <ArrowLeft className="size-5" />
    </Link>
  ) : (
    <PersonMenu side="left" />
  )
}
