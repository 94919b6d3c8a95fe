import type { Database } from './database'
import { emptyTables, goOnCounting, insertMany, tableShapes, type TableShape, writeSearch } from './engine'
import { asTheyAre } from './sqliteClient'

/* Copying all books into another database, table by table, so that it can be stopped and gone on with. */

/** What belongs to a database itself, or to the move. */
const left = /^(?:knex_|moving$|processes$|sqlite_)/
/** Triggers fill these while others are copied: what they hold is written over at the end. */
const filled = ['stock', 'order_counts', 'order_tag_counts', 'past_parts', 'past_days', 'past_changes']
/** So many rows go at once; of tables with whole documents or files fewer. */
const rowsAtOnce = 2000
const fewAtOnce = 50
const heavy = new Set([
  ...['worlds', 'editions', 'drafts', 'label_papers', 'pictures', 'item_pictures', 'logos', 'stored_parts'],
  'past_parts',
  ...['return_files', 'letter_texts', 'documents'],
])

/** All tables that are moved: first those that others refer to, last those that triggers fill. */
export async function tablesToMove(db: Database): Promise<readonly TableShape[]> {
  const rest = new Map((await tableShapes(db)).filter(({ name }) => !left.test(name)).map((one) => [one.name, one]))
  const sorted: TableShape[] = []
  const last = filled.map((name) => rest.get(name)!)
  for (const name of filled) rest.delete(name)
  while (rest.size > 0) {
    const next = [...rest.values()].filter(({ name, refers }) =>
      refers.every((other) => other === name || !rest.has(other)),
    )
    if (next.length === 0) throw new Error(`Tables refer to each other: ${[...rest.keys()].join(', ')}.`)
    for (const shape of next) {
      sorted.push(shape)
      rest.delete(shape.name)
    }
  }
  return [...sorted, ...last]
}

type Row = Readonly<Record<string, unknown>>

/** How far the move of a table has come. */
interface Progress {
  /** The key of the last row that was copied; null before the first. */
  readonly after: readonly unknown[] | null
  readonly copied: number
  readonly done: boolean
}

/** How far the move of each table has come; empty where nothing was begun. */
export async function movedSoFar(to: Database): Promise<ReadonlyMap<string, Progress>> {
  const rows = (await to('moving').queryContext(asTheyAre)) as {
    name: string
    after: string | null
    copied: number
    done: number
  }[]
  return new Map(
    rows.map(({ name, after, copied, done }) => [
      name,
      { after: after === null ? null : (JSON.parse(after) as unknown[]), copied, done: done === 1 },
    ]),
  )
}

/** The name under which the whole move is noted: `after` is what the books were like when it began. */
export const wholeMove = ''
/** The name under which it is noted that all was compared: `after` is what was found. */
export const comparedMove = ' compared'

/** Notes how far the move of a table has come. */
export async function noteMoved(to: Database, name: string, { after, copied, done }: Progress): Promise<void> {
  await to('moving')
    .insert({ name, after: after === null ? null : JSON.stringify(after), copied, done: done ? 1 : 0 })
    .onConflict('name')
    .merge()
}

/** Whether books are the half of a move that was not finished. */
export const isHalfMoved = async (db: Database): Promise<boolean> =>
  (await db('moving').where({ name: wholeMove, done: 0 }).first('name')) !== undefined

/** Takes everything out of the tables that were moved, the last one first: a move that begins anew. */
export async function emptyBooks(to: Database, shapes: readonly TableShape[]): Promise<void> {
  await to.transaction(async (trx) => {
    await emptyTables(
      trx,
      shapes.map(({ name }) => name),
    )
    await trx('moving').delete()
  })
}

/** The next rows of a table behind a key. */
async function rowsAfter(db: Database, shape: TableShape, after: Progress['after']): Promise<Row[]> {
  const { name, key, hidden } = shape
  const names = shape.columns.map((column) => column.name)
  const keys = key.map((column) => `${name}.${column}`).join(', ')
  const query = db(name)
    .queryContext(asTheyAre)
    .select(hidden ? [...names, db.raw(hidden.select)] : names)
    .orderByRaw(keys)
    .limit(heavy.has(name) ? fewAtOnce : rowsAtOnce)
  if (after)
    void query.whereRaw(`(${keys}) > (${key.map(() => hidden?.value ?? '?').join(', ')})`, [...after] as string[])
  return (await query) as Row[]
}

/** Copies a table from where its move has come to; `moved` hears of each step, and says whether to go on. */
export async function moveTable(
  from: Database,
  to: Database,
  shape: TableShape,
  progress: Progress,
  moved: (copied: number) => boolean,
): Promise<boolean> {
  let { after, copied } = progress
  const names = shape.columns.map((column) => column.name)
  if (after === null && filled.includes(shape.name)) await to(shape.name).delete()
  for (;;) {
    const rows = await rowsAfter(from, shape, after)
    const last = rows.at(-1)
    if (last) after = shape.key.map((column) => last[column])
    copied += rows.length
    await to.transaction(async (trx) => {
      if (shape.name === 'order_search')
        await writeSearch(
          trx,
          rows.map((row) => ({ id: Number(row.rowid ?? row.id), body: String(row.body) })),
          true,
        )
      else await insertMany(trx, shape.name, names, rows, (row) => names.map((name) => row[name]))
      if (!last && shape.name !== 'order_search' && !shape.hidden) await goOnCounting(trx, shape)
      await noteMoved(trx, shape.name, { after, copied, done: !last })
    })
    if (!moved(copied)) return false
    if (!last) return true
  }
}

/** What a table holds, in numbers that are the same in both databases: rows, and for each column how much is in it. */
export type Sums = Readonly<Record<string, number>>

/** Rows of a table, and of each column how many values there are and a sum: of numbers, or of how long texts are. */
export async function sumsOf(db: Database, { name, columns }: TableShape): Promise<Sums> {
  const own = columns.filter((column) => column.name !== 'rowid' && !(name === 'order_search' && column.name === 'id'))
  const parts = own.flatMap((column, i) => [
    `COUNT("${column.name}") AS n${i}`,
    // Not so large that one of the databases rounds.
    `COALESCE(SUM(${column.whole ? `"${column.name}" % 1000003` : `LENGTH("${column.name}")`}), 0) AS s${i}`,
  ])
  const [row] = (await db(name)
    .queryContext(asTheyAre)
    .select(db.raw(['COUNT(*) AS n', ...parts].join(', ')))) as unknown as Record<string, number>[]
  return Object.fromEntries([
    ['rows', Number(row!.n)],
    ...own.flatMap((column, i): [string, number][] => [
      [`${column.name}: values`, Number(row![`n${i}`])],
      [`${column.name}: sum`, Number(row![`s${i}`])],
    ]),
  ])
}

/** Some orders with all that was decided of them, word for word: each so many places apart. */
export async function sampleTrails(db: Database, most: number): Promise<ReadonlyMap<number, string>> {
  const [{ low, high }] = (await db('orders').min({ low: 'id' }).max({ high: 'id' })) as [
    { low: number | null; high: number | null },
  ]
  const found = new Map<number, string>()
  if (low === null || high === null) return found
  const step = Math.max(1, Math.floor((high - low) / most))
  for (let id = low; id <= high && found.size <= most; id += step) {
    const rows: unknown[] = []
    for (const [table, column] of [
      ['orders', 'id'],
      ['order_facts', 'order_id'],
      ['decisions', 'order_id'],
    ] as const)
      rows.push(await db(table).where(column, id).queryContext(asTheyAre).first())
    found.set(
      id,
      JSON.stringify(rows.map((row) => Object.entries((row ?? {}) as object).sort(([a], [b]) => (a < b ? -1 : 1)))),
    )
  }
  return found
}
