import { chunks, type Database, fromJson, toJson } from './database'
import type { OutboxRow } from './outbox'

/** A letter that a person wrote to the buyer of an order. */
export interface LetterRow extends OutboxRow {
  readonly orderId: number
  readonly key: string
  /** Who has it may answer. */
  readonly token: string
  readonly recipient: string
  readonly language: string
  /** What it is about, in a few words. */
  readonly about: string
  readonly subject: string
  readonly body: string
  readonly paragraphs: readonly (string | null)[]
  /** The hand pin that keeps the order until it is answered; null where it goes on. */
  readonly hold: string | null
  readonly author: string
  readonly state: 'waiting' | 'sent' | 'failed' | 'dropped'
  readonly answeredAt: string | null
}

type NewLetter = Pick<
  LetterRow,
  | 'orderId'
  | 'key'
  | 'token'
  | 'recipient'
  | 'language'
  | 'about'
  | 'subject'
  | 'body'
  | 'paragraphs'
  | 'hold'
  | 'author'
>

/** Letters as they are in the table: paragraphs as text. */
export type StoredLetter = Omit<LetterRow, 'paragraphs'> & { readonly paragraphs: string }

/** A letter as it was written. */
export const letterOfRow = (row: StoredLetter): LetterRow => ({ ...row, paragraphs: fromJson(row.paragraphs) })

/** Queues letters; one of the same key is queued once. Gives the orders whose letters are new. */
export async function addLetters(trx: Database, letters: readonly NewLetter[], now: string): Promise<number[]> {
  const made: number[] = []
  for (const part of chunks(letters, 50)) {
    const rows = (await trx('letters')
      .insert(
        part.map((letter) => ({
          ...{ ...letter, paragraphs: toJson(letter.paragraphs) },
          ...{ state: 'waiting', madeAt: now, nextAt: now },
        })),
      )
      .onConflict('key')
      .ignore()
      .returning('order_id')) as { orderId: number }[]
    made.push(...rows.map(({ orderId }) => orderId))
  }
  return made
}

/** Letters about an order, the oldest first. */
export const lettersOfOrder = async (db: Database, order: number): Promise<LetterRow[]> =>
  ((await db('letters').where({ orderId: order }).orderBy('id')) as StoredLetter[]).map(letterOfRow)

/** A letter by its number; undefined when there is none. */
export const letterById = async (db: Database, id: number): Promise<LetterRow | undefined> => {
  const row = (await db('letters').where({ id }).first()) as StoredLetter | undefined
  return row && letterOfRow(row)
}
/** A letter by what stands in its link; undefined when there is none. */
export const letterByToken = async (db: Database, token: string): Promise<LetterRow | undefined> => {
  const row = (await db('letters').where({ token }).first()) as StoredLetter | undefined
  return row && letterOfRow(row)
}

/** Writes that a letter was answered; the first time counts. */
export async function noteAnswered(trx: Database, id: number, answeredAt: string): Promise<void> {
  await trx('letters').where({ id }).whereNull('answered_at').update({ answeredAt })
}
/** Writes that a letter came back. */
export async function noteCameBack(trx: Database, id: number, problem: string): Promise<void> {
  await trx('letters').where({ id, state: 'sent' }).update({ state: 'failed', problem })
}

/** Words for letters that people keep, under a name. */
export interface LetterTextRow {
  readonly id: number
  readonly name: string
  readonly subject: string
  readonly body: string
  readonly author: string
}

/** The words that are kept, by name. */
export const letterTexts = (db: Database): Promise<LetterTextRow[]> => db('letter_texts').orderBy('name')

/** Keeps words under a name; the name's own are replaced. */
export async function keepLetterText(
  db: Database,
  text: Omit<LetterTextRow, 'id'> & { readonly madeAt: string },
): Promise<void> {
  await db('letter_texts').insert(text).onConflict('name').merge()
}
/** Keeps them no more; false when there were none. */
export const removeLetterText = async (db: Database, id: number): Promise<boolean> =>
  (await db('letter_texts').where({ id }).delete()) === 1
