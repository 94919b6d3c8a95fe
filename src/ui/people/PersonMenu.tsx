'use client'
import Link from 'next/link'
import { useRef, useState } from 'react'
import { roles } from '@/core/people'
import { call } from '../kit/api'
import { useMay, usePerson } from '../kit/person'
import { useChange } from '../kit/useChange'

const item = 'block w-full px-4 py-1.5 text-left hover:bg-act-soft focus-visible:bg-act-soft'

const floorScreens = [
  ['/bench', 'Bench'],
  ['/door', 'Door'],
  ['/counter', 'Counter'],
  ['/returns', 'Returns'],
] as const

/** Ends the sign-in of this browser. */
export function useSignOut(): () => Promise<boolean> {
  const change = useChange()
  return () =>
    change(
      () => call('POST /api/people/sign-out', { body: {} }),
      () => window.location.assign('/sign-in'),
    )
}

/** Who is here, at the end of the line: their account, and the way out. */
export function PersonMenu({ side = 'right' }: { side?: 'left' | 'right' }) {
  const person = usePerson()
  const may = useMay()
  const signOut = useSignOut()
  const [open, setOpen] = useState(false)
  const button = useRef<HTMLButtonElement>(null)
  if (!person) return null
  // Who sees no line goes from screen to screen by this.
  const floor = may('floor.work') && !may('line.see') ? floorScreens : []
  const links = [...floor, ['/setup/account', 'Your account'] as const]
  return (
    <div
      className="relative ml-1 shrink-0"
      onBlur={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget)) setOpen(false)
      }}
      onKeyDown={(event) => {
        if (event.key !== 'Escape' || !open) return
        event.stopPropagation()
        setOpen(false)
        button.current?.focus()
      }}
    >
      <button
        ref={button}
        type="button"
        aria-expanded={open}
        aria-controls="person"
        className="grid size-7 place-items-center rounded-full bg-act-soft text-small font-bold text-act hover:bg-act hover:text-on-act"
        title={`${person.name}, ${roles[person.role].name}`}
        onClick={() => setOpen(!open)}
      >
        <span aria-hidden>{initials(person.name)}</span>
        <span className="sr-only">{person.name}: account and signing out</span>
      </button>
      <div
        id="person"
        hidden={!open}
        className={`absolute top-full z-30 mt-1 w-60 border border-hair bg-sheet py-1 shadow-lg ${side === 'right' ? 'right-0' : 'left-0'}`}
      >
        <div className="border-b border-hair px-4 py-2">
          <p className="font-semibold">{person.name}</p>
          <p className="text-small text-soft">{roles[person.role].name}</p>
        </div>
        {links.map(([href, name]) => (
          <Link key={href} className={item} href={href} onClick={() => setOpen(false)}>
            {name}
          </Link>
        ))}
        <button type="button" className={item} onClick={() => void signOut()}>
          Sign out
        </button>
      </div>
    </div>
  )
}

const initials = (name: string): string =>
  name
    .split(/\s+/)
    .filter(Boolean)
    .map((word) => [...word][0]!.toUpperCase())
    .filter((_, at, all) => at === 0 || at === all.length - 1)
    .join('')
