import type { Known } from '../standins/identity'

/** Who has an account at the house's own provider. */
export const demoKnown: readonly Known[] = [
  { sub: 'u-1001', name: 'Tomasz Lis', email: 'tomasz@mossgill.example', verified: true, groups: ['all', 'dispatch'] },
  {
    sub: 'u-1002',
    name: 'Mira Dahl',
    email: 'mira@mossgill.example',
    verified: true,
    groups: ['all', 'books', 'packing'],
  },
  { sub: 'u-1003', name: 'Olu Brandt', email: 'olu@mossgill.example', verified: true, groups: ['all', 'garden'] },
  // Says that it is somebody else, and nobody has confirmed it.
  { sub: 'u-1004', name: 'Ilse Vermaere', email: 'ilse@mossgill.example', verified: false, groups: ['operations'] },
]
