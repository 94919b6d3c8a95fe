import { actingAs, addAudit, countOwners, personBy } from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { linkFor } from './people'

/** Whoever sits at the machine itself. */
const terminal = { id: 'terminal', name: 'Terminal', role: '', address: '', request: '' }

/** A link from the terminal: for the first owner, and for an owner who has lost their way in. */
export async function linkForOwner(gharry: Application, email?: string): Promise<Answer<{ readonly link: string }>> {
  const { db, now } = gharry
  const owners = await countOwners(db)
  if (email === undefined)
    return owners > 0
      ? refuse('taken', 'There is an owner already: name one with --for, for whom to make a new link.')
      : { ok: true, link: await linkFor(gharry, null) }
  const person = await personBy(db, { email: email.trim().toLowerCase() })
  if (person?.role !== 'owner' || person.endedAt !== null)
    return refuse('not-found', `No owner signs in with ${email}.`)
  const link = await linkFor(gharry, person.id)
  await actingAs(terminal, () =>
    addAudit(db, { action: 'link made', about: `person ${person.id}` }, now().toISOString()),
  )
  return { ok: true, link }
}
