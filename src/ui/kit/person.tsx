'use client'
import { createContext, type ReactNode, useContext, useMemo } from 'react'
import { may, type Permission, permissions, type Role, roles, whoMay } from '@/core/people'
import type { Endpoint } from '@/usecases/endpoints'

/** Who sits in front of the screen, and the calls that their role may not make. */
export interface PersonOnScreen {
  readonly name: string
  readonly email: string
  readonly role: Role
  readonly barred: readonly (readonly [endpoint: Endpoint, needs: Permission | 'anybody'])[]
}

const Context = createContext<PersonOnScreen | null>(null)

export const PersonProvider = ({ person, children }: { person: PersonOnScreen; children: ReactNode }) => (
  <Context value={person}>{children}</Context>
)

/** Who sits here; null outside of Gharry's own screens. */
export const usePerson = (): PersonOnScreen | null => useContext(Context)

/** Whether whoever sits here has a permission. Without anybody, all is shown: the server says no in the end. */
export function useMay(): (permission: Permission) => boolean {
  const person = usePerson()
  return (permission) => person === null || may(person.role, permission)
}

/** Why whoever sits here may not call something, as a sentence that says who may; null when they may. */
export function useBarred(): (endpoint: Endpoint | undefined) => string | null {
  const person = usePerson()
  const barred = useMemo(() => new Map(person?.barred), [person])
  return (endpoint) => {
    const need = endpoint === undefined ? undefined : barred.get(endpoint)
    if (need === undefined || need === 'anybody' || person === null) return null
    const many = roles[person.role].many
    return `${many[0]!.toUpperCase()}${many.slice(1)} may not ${permissions[need]}. Those who may: ${whoMay(need)}.`
  }
}
