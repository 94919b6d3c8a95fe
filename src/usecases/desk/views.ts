import { forgetView, fromJson, keepView, toJson, viewsFor } from '@/data'
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
export async function showViews({ db, settings }: Application): Promise<{ views: readonly SavedView[] }> {
  const rows = await viewsFor(db, settings.author)
  return {
    views: rows.map(({ id, name, shared, owner, query, columns }) => ({
      ...{ id, name, shared, owner, query },
      ...{ mine: owner === settings.author, columns: fromJson<ViewColumns>(columns) },
    })),
  }
}

const mostViews = 100

/** Keeps a view under a name; under the same name again it is replaced. */
export async function saveView(
  { db, settings, now }: Application,
  view: Pick<SavedView, 'name' | 'shared' | 'query' | 'columns'>,
): Promise<Answer<object>> {
  const name = view.name.trim().replace(/\s+/g, ' ')
  if (name === '') return refuse('incomplete', 'Give the view a name.')
  const known = await viewsFor(db, settings.author)
  const mine = known.filter(({ owner }) => owner === settings.author)
  if (mine.length >= mostViews && !mine.some((row) => row.name === name))
    return refuse('taken', `At most ${mostViews} views are kept: forget one first.`)
  await keepView(db, {
    ...{ owner: settings.author, name, shared: view.shared, query: view.query },
    ...{ columns: toJson(view.columns), madeAt: now().toISOString() },
  })
  return { ok: true }
}

/** Forgets a view; those of others stay. */
export const removeView = async ({ db, settings }: Application, id: number): Promise<Answer<object>> =>
  (await forgetView(db, settings.author, id))
    ? { ok: true }
    : refuse('missing', 'There is no such view of yours (any more).')
