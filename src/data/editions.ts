import type { Flow } from '@/core/rulebook/bulk'
import type { Rulebook } from '@/core/rulebook/language'
import type { World } from '@/core/world'
import { countAll } from './countAll'
import { fromJson, toJson, type Database } from './database'

export interface Edition {
  readonly number: number
  readonly rulebook: Rulebook
  readonly note: string
  readonly author: string
  readonly publishedAt: string
  /** From when it is in force (ISO 8601, UTC). */
  readonly inForceAt: string
  readonly withdrawnAt: string | null
}

interface EditionRow {
  number: number
  content: string
  note: string
  author: string
  publishedAt: string
  inForceAt: string
  withdrawnAt: string | null
}

/** An edition as it is listed: its rulebook is long. */
export type ListedEdition = Omit<Edition, 'rulebook'>
const listedColumns = ['number', 'note', 'author', 'published_at', 'in_force_at', 'withdrawn_at']

const readEdition = (row: EditionRow): Edition => ({
  number: row.number,
  rulebook: fromJson<Rulebook>(row.content),
  note: row.note,
  author: row.author,
  publishedAt: row.publishedAt,
  inForceAt: row.inForceAt,
  withdrawnAt: row.withdrawnAt,
})

/**
 * Editions whose moment has come, the one in force first: of those with the youngest moment, the newest. One that was
 * published for at once is in force whatever the clock says afterwards.
 */
const comeBy = (db: Database, now: string): ReturnType<Database> =>
  db('editions')
    .where((q) => void q.where('in_force_at', '<=', now).orWhere({ atOnce: true }))
    .whereNull('withdrawn_at')
    .orderBy([
      { column: 'in_force_at', order: 'desc' },
      { column: 'number', order: 'desc' },
    ]) as ReturnType<Database>

/** The edition in force at a moment (ISO 8601, UTC). */
export async function editionInForce(db: Database, now: string): Promise<Edition | undefined> {
  const row = (await comeBy(db, now).first()) as EditionRow | undefined
  return row && readEdition(row)
}

const toCome = (db: Database, now: string): ReturnType<Database> =>
  db('editions').where('in_force_at', '>', now).whereNull('withdrawn_at') as ReturnType<Database>

/** Editions that were published for a later moment. */
export async function editionsToCome(db: Database, now: string): Promise<Edition[]> {
  return ((await toCome(db, now)) as EditionRow[]).map(readEdition)
}

/** The edition that comes into force next; undefined when none is to come. */
export const nextEdition = (db: Database, now: string): Promise<ListedEdition | undefined> =>
  toCome(db, now).orderBy('in_force_at').first(listedColumns) as Promise<ListedEdition | undefined>

/** One edition; undefined when there is none. */
export async function editionNumbered(db: Database, number: number): Promise<Edition | undefined> {
  const row: EditionRow | undefined = await db('editions').where({ number }).first()
  return row && readEdition(row)
}

/** How many editions there are. */
export const countEditions = (db: Database): Promise<number> => countAll(db('editions'))

/** A page of the editions without their rulebooks, the newest first. */
export const editionsPage = (db: Database, most: number, skip: number): Promise<ListedEdition[]> =>
  db('editions').select(listedColumns).orderBy('number', 'desc').limit(most).offset(skip)

/**
 * Adds an edition that is in force at once, or from `from` on. One for at once comes after all that are in force, even
 * if the clock was set back.
 */
export async function addEdition(
  db: Database,
  rulebook: Rulebook,
  note: string,
  author: string,
  now: string,
  from: string | null = null,
  draftRevision: number | null = null,
): Promise<number> {
  const newest =
    from === null ? ((await comeBy(db, now).first('in_force_at')) as { inForceAt: string } | undefined) : undefined
  const inForceAt = from ?? (newest && newest.inForceAt > now ? newest.inForceAt : now)
  const [row] = (await db('editions')
    .insert({
      content: toJson(rulebook),
      note,
      author,
      publishedAt: now,
      inForceAt: inForceAt,
      atOnce: from === null,
      draftRevision: draftRevision,
    })
    .returning('number')) as { number: number }[]
  return row!.number
}

/** Takes back an edition that has not come into force yet; false when there is none such. */
export async function withdrawEdition(db: Database, number: number, now: string): Promise<boolean> {
  return (
    (await db('editions')
      .where({ number, atOnce: false })
      .where('in_force_at', '>', now)
      .whereNull('withdrawn_at')
      .update({ withdrawnAt: now })) === 1
  )
}

/** The edition that a revision of the draft was made, unless it was taken back; undefined when there is none. */
export async function editionOfRevision(db: Database, revision: number): Promise<number | undefined> {
  return (
    (await db('editions').where({ draftRevision: revision }).whereNull('withdrawn_at').first('number')) as
      { number: number } | undefined
  )?.number
}

export interface Draft {
  readonly rulebook: Rulebook
  readonly revision: number
  readonly changedAt: string
}

/** The draft with its revision; undefined before the first one. */
export async function readDraft(db: Database): Promise<Draft | undefined> {
  const row: { content: string; revision: number; changedAt: string } | undefined = await db('drafts')
    .where({ id: 1 })
    .first()
  return row && { rulebook: fromJson<Rulebook>(row.content), revision: row.revision, changedAt: row.changedAt }
}

/**
 * Replaces the draft if it still has the revision that the editor began from; else false, and nothing is overwritten.
 */
export async function replaceDraft(db: Database, rulebook: Rulebook, expected: number, now: string): Promise<boolean> {
  if (expected === 0) {
    const made: unknown[] = await db('drafts')
      .insert({ id: 1, content: toJson(rulebook), revision: 1, changedAt: now })
      .onConflict('id')
      .ignore()
      .returning('id')
    return made.length > 0
  }
  const changed = await db('drafts')
    .where({ id: 1, revision: expected })
    .update({ content: toJson(rulebook), revision: expected + 1, changedAt: now })
  return changed === 1
}

export interface WorldVersion {
  readonly version: number
  readonly world: World
}

/**
 * The newest world that each database was read for: a version never changes, and every page and every round of the
 * worker asks for it.
 */
const worldsRead = new WeakMap<object, WorldVersion>()

/** The world in force with its version; undefined before the first one. */
export async function newestWorld(db: Database): Promise<WorldVersion | undefined> {
  const newest = (await db('worlds').max({ version: 'version' }).first()) as { version: number | null }
  if (newest.version === null) return undefined
  // A transaction shares the settings of its database; what it reads may yet be rolled back, so it is not kept.
  const { config } = db.client as { config: object }
  const known = worldsRead.get(config)
  if (known?.version === newest.version) return known
  const read = { version: newest.version, world: (await worldOf(db, newest.version))! }
  if (!db.isTransaction) worldsRead.set(config, read)
  return read
}

/** The world of a version; undefined when there is none. */
export async function worldOf(db: Database, version: number): Promise<World | undefined> {
  const row: { content: string } | undefined = await db('worlds').where({ version }).first()
  return row && fromJson<World>(row.content)
}

/** The numbers of the newest edition and world: cheap to ask, to see whether what one holds is still in force. */
export async function versionsInForce(db: Database, now: string): Promise<{ edition: number; world: number }> {
  const edition = (await comeBy(db, now).first('number')) as { number: number } | undefined
  const [world] = (await db('worlds').max({ n: 'version' })) as { n: number | null }[]
  return { edition: edition?.number ?? 0, world: world?.n ?? 0 }
}

/** Writes a new version of the world; gives its number. */
export async function addWorld(db: Database, world: World, now: string): Promise<number> {
  const [row] = (await db('worlds')
    .insert({ content: toJson(world), madeAt: now })
    .returning('version')) as { version: number }[]
  return row!.version
}

/** How many orders came to each rule, matched it and were decided by it. */
export type FlowCounts = Readonly<Record<string, Readonly<Flow>>>

/** The flow through an edition as it was counted last; undefined when it never was. */
export async function readFlow(
  db: Database,
  edition: number,
): Promise<{ counts: FlowCounts; countedAt: string } | undefined> {
  const row: { counts: string; countedAt: string } | undefined = await db('rule_flow').where({ edition }).first()
  return row && { counts: fromJson<FlowCounts>(row.counts), countedAt: row.countedAt }
}

/** Keeps the flow through an edition. */
export async function writeFlow(db: Database, edition: number, counts: FlowCounts, now: string): Promise<void> {
  await db('rule_flow')
    .insert({ edition, counts: toJson(counts), countedAt: now })
    .onConflict('edition')
    .merge()
}
