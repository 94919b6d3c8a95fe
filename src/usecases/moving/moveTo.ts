import { dirname } from 'node:path'
import { BooksProblem, type Database, isPostgresAddress, openDatabase } from '@/data'
import { beforeMigrating } from '../backups/beforeMigrating'
import { backupHouse } from '../backups/house'
import { filePlace, openFiles, type WorkingFolder, workingFolder } from '../shared/files'
import { type Move, moveBooks, moveFiles, MoveProblem, type MoveReport } from './moveBooks'

/** What a place is called where no password is to be read. */
export const nameOfBooks = (books: string): string =>
  isPostgresAddress(books) ? books.replace(/:[^:@/]*@/, ':…@') : books

/** Where books can be moved to: the address of a database, or a file. */
export const canBeMovedTo = (to: string): boolean => isPostgresAddress(to) || to.endsWith('.db')
export const isDatabaseAddress = isPostgresAddress

/** Moves the books of the environment with their files to another place. */
export async function moveTo(
  to: string,
  more: Pick<Move, 'fresh' | 'say' | 'goesOn'>,
  env: Readonly<Record<string, string | undefined>> = process.env,
): Promise<MoveReport> {
  const house = backupHouse(env)
  const books = env.GHARRY_DATABASE ?? house.books
  if (books === to) throw new MoveProblem('These are the books that Gharry has now.')
  const opened: Database[] = []
  const open = async (which: string): Promise<Database> => {
    const db = await openDatabase(which)
    opened.push(db)
    return db
  }
  try {
    const now = new Date()
    if (books === house.books) await beforeMigrating(house, now)
    const [from, target] = [await open(books), await open(to)]
    more.say(`From ${nameOfBooks(books)} to ${nameOfBooks(to)}`)
    // Where a place for files is named, they stay there.
    const stay = (env.GHARRY_FILES ?? '') !== ''
    const working = workingFolder(house.dataDir)
    const files = async (): Promise<number> =>
      stay
        ? 0
        : moveFiles(
            await filesOf(from, books, house.dataDir, working),
            await filesOf(target, to, dirname(to), working),
            working,
          )
    return await moveBooks({ ...more, from, to: target, now, files })
  } catch (error) {
    throw error instanceof BooksProblem ? new MoveProblem(error.message) : error
  } finally {
    await Promise.all(opened.map((db) => db.destroy()))
  }
}

/** Uploads are in the data folder, or in the books. */
const filesOf = (db: Database, books: string, folder: string, working: WorkingFolder) =>
  openFiles(db, filePlace(isPostgresAddress(books) ? 'books' : folder, '', '')!, working, () => new Date())
