'use client'
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react'
import Link from 'next/link'
import { roles } from '@/core/people'
import { call } from '../kit/api'
import { useMay, usePerson } from '../kit/person'
import { useChange } from '../kit/useChange'

const item = 'block w-full px-4 py-1.5 text-left data-focus:bg-act-soft'

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
export function PersonMenu() {
  const person = usePerson()
  const may = useMay()
  const signOut = useSignOut()
  if (!person) return null
  // Who sees no line goes from screen to screen by this.
  const floor = may('floor.work') && !may('line.see') ? floorScreens : []
  return (
    <Menu>
      <MenuButton
        className="ml-1 grid size-7 shrink-0 place-items-center rounded-full bg-act-soft text-small font-bold text-act hover:bg-act hover:text-on-act"
        title={`${person.name}, ${roles[person.role].name}`}
      >
        <span aria-hidden>{initials(person.name)}</span>
        <span className="sr-only">{person.name}: account and signing out</span>
      </MenuButton>
      <MenuItems anchor="bottom end" className="z-30 w-60 border border-hair bg-sheet py-1 shadow-lg outline-none">
        <div className="border-b border-hair px-4 py-2">
          <p className="font-semibold">{person.name}</p>
          <p className="text-small text-soft">{roles[person.role].name}</p>
        </div>
        {floor.map(([href, name]) => (
          <MenuItem key={href}>
            <Link className={item} href={href}>
              {name}
            </Link>
          </MenuItem>
        ))}
        <MenuItem>
          <Link className={item} href="/setup/account">
            Your account
          </Link>
        </MenuItem>
        <MenuItem>
          <button type="button" className={item} onClick={() => void signOut()}>
            Sign out
          </button>
        </MenuItem>
      </MenuItems>
    </Menu>
  )
}

const initials = (name: string): string =>
  name
    .split(/\s+/)
    .filter(Boolean)
    .map((word) => [...word][0]!.toUpperCase())
    .filter((_, at, all) => at === 0 || at === all.length - 1)
    .join('')
