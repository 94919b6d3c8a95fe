import { forgetView, fromJson, keepView, listPeople, toJson, viewsFor, whoActs } from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'

/** Which columns a list shows, in which order, and how wide those are that were sized. */
export interface ViewColumns {
  readonly hidden: readonly string[]
  readonly order: readonly string[]
  readonly sizes: Readonly<Record<string, number>>
}

/** A view of the Desk as people see it. */
export interface SavedView {
  readonly id: number
  readonly name: string
  readonly shared: boolean
  /** Who keeps it; only they can forget it. */
  readonly owner: string
  readonly mine: boolean
  readonly query: string
  readonly columns: ViewColumns
}

/** The views that a person keeps, and those that others share. */
export async function showViews({ db }: Application): Promise<{ views: readonly SavedView[] }> {
  const own = whoActs().id
  const rows = await viewsFor(db, own)
  const names = new Map((await listPeople(db)).map(({ id, name }) => [`person:${id}`, name]))
  return {
    views: rows.map(({ id, name, shared, owner, query, columns }) => ({
      ...{ id, name, shared, owner: names.get(owner) ?? owner, query },
      ...{ mine: owner === own, columns: fromJson<ViewColumns>(columns) },
    })),
  }
}

const mostViews = 100

/** Keeps a view under a name; under the same name again it is replaced. */
export async function saveView(
  { db, now }: Application,
  view: Pick<SavedView, 'name' | 'shared' | 'query' | 'columns'>,
): Promise<Answer<object>> {
  const name = view.name.trim().replace(/\s+/g, ' ')
  if (name === '') return refuse('incomplete', 'Give the view a name.')
  const known = await viewsFor(db, whoActs().id)
  const mine = known.filter(({ owner }) => owner === whoActs().id)
  if (mine.length >= mostViews && !mine.some((row) => row.name === name))
    return refuse('taken', `At most ${mostViews} views are kept: forget one first.`)
  await keepView(db, {
    ...{ owner: whoActs().id, name, shared: view.shared, query: view.query },
    ...{ columns: toJson(view.columns), madeAt: now().toISOString() },
  })
  return { ok: true }
}

/** Forgets a view; those of others stay. */
export const removeView = async ({ db }: Application, id: number): Promise<Answer<object>> =>
  (await forgetView(db, whoActs().id, id))
    ? { ok: true }
    : refuse('missing', 'There is no such view of yours (any more).')
