import type { Database } from './database'

/** A view of the Desk that somebody keeps. */
export interface DeskViewRow {
  readonly id: number
  readonly owner: string
  readonly name: string
  /** Others see it, too. */
  readonly shared: boolean
  /** Filters and sorts as they are in an address. */
  readonly query: string
  /** JSON: which columns, in which order, how wide. */
  readonly columns: string
  readonly madeAt: string
}

/** The views of a person and those that others share, by name. */
export const viewsFor = async (db: Database, person: string): Promise<DeskViewRow[]> =>
  ((await db('desk_views').where({ owner: person }).orWhere({ shared: true }).orderBy('name')) as DeskViewRow[]).map(
    (row) => ({ ...row, shared: Boolean(row.shared) }),
  )

/** Keeps a view; one of the same person and name is replaced. */
export async function keepView(db: Database, view: Omit<DeskViewRow, 'id'>): Promise<void> {
  await db('desk_views').insert(view).onConflict(['owner', 'name']).merge()
}

/** Forgets a view of a person; false when there is none. */
export const forgetView = async (db: Database, owner: string, id: number): Promise<boolean> =>
  (await db('desk_views').where({ id, owner }).delete()) === 1
