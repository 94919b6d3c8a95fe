import { readFileSync } from 'node:fs'

const given = JSON.parse(readFileSync('demo/staff.json', 'utf8')) as {
  readonly password: string
  readonly people: readonly { readonly role: string; readonly name: string; readonly email: string }[]
}

/** What everybody in the demo signs in with. */
export const demoPassword = given.password

/** The demo's person of a role. */
export const personOf = (role: string): { readonly name: string; readonly email: string } =>
  given.people.find((person) => person.role === role)!
