import { existsSync } from 'node:fs'
import { askCarriersSince } from '@/usecases/backups/afterRestore'
import { backupHouse, type BackupHouse } from '@/usecases/backups/house'
import { keysToOpen, keyToKeep } from '@/usecases/backups/keys'
import { inspectHere } from '@/usecases/backups/inspectCopy'
import { nameOfMoment } from '@/usecases/backups/kept'
import { BackupProblem, makeBackup } from '@/usecases/backups/oneBackup'
import { chosenBackup, finishRestore, problemOf, restoreBooks, storedBackups } from '@/usecases/backups/restore'
import { withBooks } from './withBooks'

interface From {
  readonly from?: string
  readonly key?: string
}

/** What cannot be done is a sentence, and exit code 3. */
async function saying(work: () => Promise<void>): Promise<number> {
  try {
    await work()
    return 0
  } catch (error) {
    console.error(
      error instanceof Error && error.message.startsWith('The environment') ? error.message : problemOf(error),
    )
    return 3
  }
}

/** Makes a backup now. */
export const backupNow = (): Promise<number> =>
  saying(async () => {
    const house = backupHouse()
    if (!house.place) throw new BackupProblem('GHARRY_BACKUPS is none: name a place.')
    if (!existsSync(house.books)) throw new BackupProblem('There are no books in this data folder yet.')
    const made = new Date()
    const backup = nameOfMoment(made)
    const note = await makeBackup(house, {
      ...{ backup, place: house.place, made },
    })
    console.log(
      `${backup} is in ${house.place.words}: ${megabytes(note.bytes)} of books, ${rows(note.tables)} rows, looked through.`,
    )
  })

/** Lists the backups of a place, the oldest first. */
export const listBackups = ({ from, key }: From): Promise<number> =>
  saying(async () => {
    const house = backupHouse(process.env, from)
    const found = await storedBackups(house, placeOf(house), keysToOpen(house, key), (odd) => console.error(odd))
    for (const { name, note, until, bytes } of found)
      console.log(
        `${name}  from ${note.made} until ${until.toISOString()}  ${megabytes(bytes)}  ${note.tables.orders ?? 0} orders, ${note.tables.labels ?? 0} labels`,
      )
    if (found.length === 0) console.log(`No backup that can be opened is in ${placeOf(house).words}.`)
  })

/** Puts the books back as a backup has them, or as they were at a moment. */
export const restore = (
  name: string | undefined,
  { at, from, key, finish }: From & { readonly at: number | null; readonly finish?: boolean },
): Promise<number> =>
  saying(async () => {
    const house = backupHouse(process.env, from)
    if (finish) {
      const before = finishRestore(house)
      console.log(before ? `Done. What was there before is in ${before}.` : 'Nothing is left to do.')
      return
    }
    const place = placeOf(house)
    const keys = keysToOpen(house, key)
    const found = await storedBackups(house, place, keys, (odd) => console.error(odd))
    const moment = at === null ? {} : { at: new Date(at) }
    const chosen = chosenBackup(found, { ...(name === undefined ? {} : { name }), ...moment })
    const done = await restoreBooks(house, {
      ...{ place, chosen, keys, ...moment, say: console.log },
      inspect: inspectHere,
    })
    console.log(
      `The books are as they were at ${done.until.toISOString()}: ${done.tables.orders ?? 0} orders, ${done.tables.labels ?? 0} labels, ${rows(done.tables)} rows in all; looked through, and the audit is whole.`,
    )
    if (done.before) console.log(`What was there before is in ${done.before}.`)
    console.log('Start Gharry: before it buys anything it asks the carriers what was bought since then.')
  })

/** The books were put back by other tools, as they were at a moment: the carriers are asked before anything is bought. */
export const askCarriers = (since: number): Promise<number> =>
  withBooks(async (gharry) => {
    await askCarriersSince(gharry, new Date(since).toISOString())
    console.log('Nothing is bought until the carriers have said what was bought since then. Health says how far it is.')
    return 0
  })

/** Prints the backup key. */
export const showBackupKey = (): Promise<number> =>
  saying(() => {
    const { key, name } = keyToKeep(backupHouse())
    console.log(key)
    console.error(`This is the backup key ${name}. Keep it where the backups are not: without it none can be opened.`)
    return Promise.resolve()
  })

function placeOf(house: BackupHouse): NonNullable<BackupHouse['place']> {
  if (!house.place) throw new BackupProblem('GHARRY_BACKUPS is none: name a place with --from.')
  return house.place
}

const megabytes = (bytes: number): string => `${(bytes / 1e6).toFixed(1)} MB`
const rows = (tables: Readonly<Record<string, number>>): number =>
  Object.values(tables).reduce((sum, count) => sum + count, 0)
