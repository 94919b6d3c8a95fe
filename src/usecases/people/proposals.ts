import { z } from 'zod'
import { may } from '@/core/people'
import {
  addAudit,
  addProposal,
  documentBy,
  fromJson,
  listPeople,
  listProposals,
  moveProposal,
  proposalBy,
  saveDocument,
  toJson,
} from '@/data'
import type { Endpoint } from '../endpoints'
import { refuse, type Answer, type Application } from '../shared/application'
import { deeds } from './deeds'
import { needOf } from './needs'
import { plainForAudit } from './plainForAudit'
import type { Person } from './signedIn'

/*
 * A second pair of eyes: what the owner has named is begun by one person and done when another one agrees, who could
 * have done it themselves.
 */

/** What can want two people, and the calls that it is about. */
export const watched = {
  publish: { name: 'Publishing an edition', calls: ['POST /api/rules/rulebook/publish'] },
  spend: {
    name: 'Top-ups, and what may be spent a day',
    calls: ['POST /api/ledger/balance/top-up', 'PUT /api/ledger/balance'],
  },
  tariffs: { name: 'Tariffs', calls: ['PUT /api/ledger/tariffs/file', 'DELETE /api/ledger/tariffs'] },
  credentials: {
    name: 'Connections and their credentials',
    calls: ['POST /api/intake/connections', 'PUT /api/intake/connections/:id'],
  },
} as const satisfies Record<string, { readonly name: string; readonly calls: readonly Endpoint[] }>
export type Watched = keyof typeof watched
const kinds = Object.keys(watched) as Watched[]

const documentName = 'second eyes'
const wanted = z.array(z.enum(kinds as [Watched, ...Watched[]]))

const wantedNow = async ({
  db,
}: Application): Promise<{ readonly version: number; readonly kinds: readonly Watched[] }> => {
  const row = await documentBy<Watched[]>(db, documentName)
  return { version: row?.version ?? 0, kinds: row?.published ?? [] }
}

/** What wants two people; asked at each such call. */
export async function wantsTwo(gharry: Application, endpoint: string): Promise<boolean> {
  const kind = kinds.find((id) => (watched[id].calls as readonly string[]).includes(endpoint))
  return kind !== undefined && (await wantedNow(gharry)).kinds.includes(kind)
}

/** Says for what two people are wanted. */
export async function chooseWatched(
  gharry: Application,
  given: { readonly version: number; readonly kinds: readonly string[] },
): Promise<Answer<{ readonly version: number }>> {
  const chosen = wanted.safeParse(given.kinds)
  if (!chosen.success) return refuse('bad-value', 'There is no such thing to watch.')
  const at = gharry.now().toISOString()
  return (await saveDocument(gharry.db, documentName, given.version, chosen.data, true, at))
    ? { ok: true, version: given.version + 1 }
    : refuse('world-changed', 'Somebody else has changed this meanwhile: look at it again.')
}

const sealedAs = 'proposal'

/** Writes down what somebody has begun; it waits for another one. */
export async function propose(
  { db, vault, now }: Application,
  person: Person,
  call: { readonly endpoint: string; readonly path: string; readonly body: Buffer },
): Promise<string> {
  const at = now().toISOString()
  const shown = toJson(readable(call.body))
  await db.transaction(async (trx) => {
    const id = await addProposal(trx, {
      ...{ endpoint: call.endpoint, path: call.path, by: person.id, madeAt: at, shown },
      body: vault.seal(call.body.toString('base64'), sealedAs),
    })
    const after = fromJson<unknown>(shown)
    await addAudit(trx, { action: `begun: ${deedOf(call.endpoint)}`, about: `proposal ${id}`, after }, at)
  })
  return 'It is written down, and done when somebody else agrees: Set-up → To agree.'
}

const deedOf = (endpoint: string): string => deeds[endpoint as Endpoint] ?? endpoint

/** What can be shown of a body: JSON without secrets, or how large a file is. */
function readable(body: Buffer): unknown {
  try {
    return plainForAudit(JSON.parse(body.toString('utf8')))
  } catch {
    return { file: `${body.length} bytes` }
  }
}

export interface ProposalView {
  readonly id: number
  readonly what: string
  readonly path: string
  readonly shown: unknown
  readonly by: string
  readonly madeAt: string
  readonly state: 'waits' | 'agreed' | 'done' | 'failed' | 'refused'
  readonly agreedBy: string | null
  readonly settledAt: string | null
  readonly outcome: string
  /** Why whoever looks may not agree; null when they may. */
  readonly barred: string | null
}

/** What waits for a second person, and what became of the youngest others; and for what two are wanted. */
export async function showProposals(
  gharry: Application,
  person: Person,
): Promise<{
  readonly proposals: readonly ProposalView[]
  readonly version: number
  readonly wanted: readonly Watched[]
  readonly kinds: readonly { readonly id: Watched; readonly name: string }[]
}> {
  const [rows, people, now] = await Promise.all([
    listProposals(gharry.db, 100),
    listPeople(gharry.db),
    wantedNow(gharry),
  ])
  const names = new Map(people.map(({ id, name }) => [id, name]))
  return {
    proposals: rows.map(({ id, endpoint, path, shown, by, madeAt, state, agreedBy, settledAt, outcome }) => ({
      ...{ id, what: deedOf(endpoint), path, shown: fromJson<unknown>(shown), by: names.get(by) ?? '', madeAt, state },
      ...{ agreedBy: agreedBy === null ? null : (names.get(agreedBy) ?? ''), settledAt, outcome },
      barred: whyBarred(person, by, endpoint),
    })),
    version: now.version,
    wanted: now.kinds,
    kinds: kinds.map((id) => ({ id, name: watched[id].name })),
  }
}

function whyBarred(person: Person, by: number, endpoint: string): string | null {
  if (by === person.id) return 'You have begun it: somebody else has to agree.'
  const need = needOf(endpoint)
  return need && need !== 'anybody' && may(person.role, need) ? null : 'You may not do this yourself.'
}

/**
 * Takes a proposal to be done now; of two who agree at once, one does it. What was agreed to and broke off may be taken
 * up again.
 */
export async function agreeTo(
  { db, vault, now }: Application,
  person: Person,
  id: number,
): Promise<Answer<{ readonly endpoint: string; readonly path: string; readonly body: Buffer }>> {
  const row = await proposalBy(db, id)
  if (!row) return refuse('not-found', 'There is no such proposal (any more).')
  const barred = whyBarred(person, row.by, row.endpoint)
  if (barred !== null) return refuse('not-allowed', barred)
  const again = row.state === 'agreed' && row.agreedBy === person.id
  const at = now().toISOString()
  const taken =
    again ||
    (await db.transaction(async (trx) => {
      const moved = await moveProposal(trx, id, 'waits', { state: 'agreed', agreedBy: person.id, settledAt: at })
      if (moved) await addAudit(trx, { action: `agreed: ${deedOf(row.endpoint)}`, about: `proposal ${id}` }, at)
      return moved
    }))
  if (!taken) return refuse('taken-before', 'Somebody has settled this before.')
  return {
    ok: true,
    endpoint: row.endpoint,
    path: row.path,
    body: Buffer.from(vault.open(row.body, sealedAs), 'base64'),
  }
}

/** Says how it ended. */
export async function settleProposal({ db }: Application, id: number, well: boolean, outcome: string): Promise<void> {
  await moveProposal(db, id, 'agreed', { state: well ? 'done' : 'failed', outcome: outcome.slice(0, 500) })
}

/** Refuses a proposal; whoever has begun it may take it back so. */
export async function refuseProposal({ db, now }: Application, person: Person, id: number): Promise<Answer<object>> {
  const row = await proposalBy(db, id)
  if (!row) return refuse('not-found', 'There is no such proposal (any more).')
  const at = now().toISOString()
  const done = await db.transaction(async (trx) => {
    const moved = await moveProposal(trx, id, 'waits', { state: 'refused', agreedBy: person.id, settledAt: at })
    if (moved) await addAudit(trx, { action: `refused: ${deedOf(row.endpoint)}`, about: `proposal ${id}` }, at)
    return moved
  })
  return done ? { ok: true } : refuse('taken-before', 'Somebody has settled this before.')
}
