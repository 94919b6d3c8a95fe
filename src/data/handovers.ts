import { chunks, type Database } from './database'
import type { OutboxRow } from './outbox'

/** Papers on their way to a partner, or the word that a shipment must not go. */
export interface HandOverRow extends OutboxRow {
  readonly kind: 'hand over' | 'take back'
  readonly key: string
  /** Names the shipment for both sides; the same for both kinds. */
  readonly reference: string
  /** Of the page on which people of the partner answer. */
  readonly token: string
  /** The connection. */
  readonly partner: string
  readonly orderId: number
  readonly labelId: number
  readonly state: 'queued' | 'sent' | 'failed' | 'dropped'
  /** Where the other side has it, or what its server said. */
  readonly receipt: string
  /** What the partner said of it last; empty before. */
  readonly answer: '' | 'acknowledged' | 'refused' | 'despatched'
  readonly answeredAt: string | null
  readonly answerText: string
}

type New = Pick<HandOverRow, 'kind' | 'key' | 'reference' | 'token' | 'partner' | 'orderId' | 'labelId'>

/** Queues hand-overs; one of the same key is queued once. */
export async function addHandOvers(db: Database, rows: readonly New[], now: string): Promise<void> {
  for (const part of chunks(rows, 80))
    await db('handovers')
      .insert(part.map((row) => ({ ...row, state: 'queued', madeAt: now, nextAt: now })))
      .onConflict('key')
      .ignore()
}

/** All hand-overs of an order, the oldest first. */
export const handOversOfOrder = (db: Database, order: number): Promise<HandOverRow[]> =>
  db('handovers').where({ orderId: order }).orderBy('id')

/** The hand-over that a partner names, or whose page is open; undefined when there is none. */
export const handOverBy = (
  db: Database,
  by: { readonly reference: string; readonly partner: string } | { readonly token: string },
): Promise<HandOverRow | undefined> =>
  db('handovers')
    .where({ ...by, kind: 'hand over' })
    .first()

/** What a partner said of a hand-over. */
export async function answerHandOver(
  db: Database,
  id: number,
  answer: HandOverRow['answer'],
  text: string,
  at: string,
): Promise<void> {
  await db('handovers').where({ id }).update({ answer, answerText: text, answeredAt: at })
}

/** Drops what has not gone out yet for a label; gives those that have, or may have: they are taken back. */
export async function dropHandOvers(db: Database, label: number): Promise<HandOverRow[]> {
  await db('handovers')
    .where({ labelId: label, kind: 'hand over', state: 'queued', attempts: 0 })
    .whereNull('lease_until')
    .update({ state: 'dropped', problem: 'The label was voided first.' })
  return db('handovers').where({ labelId: label, kind: 'hand over' }).whereNot({ state: 'dropped' })
}

/** How far a partner’s answers were read; empty before the first time. */
export async function partnerCursor(db: Database, partner: string): Promise<string> {
  const row: { cursor: string } | undefined = await db('partner_cursors').where({ partner }).first()
  return row?.cursor ?? ''
}
/** Keeps how far a partner’s answers were read. */
export async function setPartnerCursor(db: Database, partner: string, cursor: string): Promise<void> {
  await db('partner_cursors').insert({ partner, cursor }).onConflict('partner').merge()
}
