import type { Database } from './database'

/** Something that one person has begun, and another one has to agree to. */
export interface ProposalRow {
  readonly id: number
  readonly endpoint: string
  readonly path: string
  /** Sealed. */
  readonly body: string
  /** JSON of what can be shown of it. */
  readonly shown: string
  readonly by: number
  readonly madeAt: string
  /** `agreed` is under way: what was agreed to is done next, and says then how it ended. */
  readonly state: 'waits' | 'agreed' | 'done' | 'failed' | 'refused'
  readonly agreedBy: number | null
  readonly settledAt: string | null
  readonly outcome: string
}

/** Keeps a proposal; gives its number. */
export async function addProposal(
  db: Database,
  proposal: Pick<ProposalRow, 'endpoint' | 'path' | 'body' | 'shown' | 'by' | 'madeAt'>,
): Promise<number> {
  const [row] = (await db('proposals')
    .insert({ ...proposal, state: 'waits' })
    .returning('id')) as { id: number }[]
  return row!.id
}

/** One proposal; undefined when there is none. */
export const proposalBy = (db: Database, id: number): Promise<ProposalRow | undefined> =>
  db('proposals').where({ id }).first() as unknown as Promise<ProposalRow | undefined>

/** Proposals that wait, and the youngest of those that are settled. */
export const listProposals = (db: Database, most: number): Promise<ProposalRow[]> =>
  db('proposals')
    .orderByRaw(`CASE WHEN state IN ('waits', 'agreed') THEN 0 ELSE 1 END`)
    .orderBy('id', 'desc')
    .limit(most) as unknown as Promise<ProposalRow[]>

/** Moves a proposal on from a state; false when another has done so before. */
export const moveProposal = async (
  db: Database,
  id: number,
  from: ProposalRow['state'],
  change: Partial<Pick<ProposalRow, 'state' | 'agreedBy' | 'settledAt' | 'outcome'>>,
): Promise<boolean> => (await db('proposals').where({ id, state: from }).update(change)) === 1
