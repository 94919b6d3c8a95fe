import { isComplete, isNear, judgeScan } from '@/core/bench'
import {
  addScan,
  changeCheck,
  checkById,
  labelById,
  type CheckRow,
  type Database,
  markChecked,
  reopenCheck,
  type ScanRow,
  scansOf,
  undoScan,
  writeLog,
} from '@/data'
import { refuse, type Answer, type Application, type Refused } from '../../shared/application'
import { correctShort } from '../stock/correctShort'
import { type BenchView, benchView, type ParcelFacts, parcelFacts } from './benchView'

/** A scan as the bench made it; the key makes one that is sent twice one scan. */
export interface BenchScan {
  readonly key: string
  readonly code: string
  /** A quantity that was typed before it; null for none. */
  readonly typed: number | null
  /** When it was made, by the bench's clock. */
  readonly at: string
}

const longestCode = 200

/**
 * Takes scans of an open parcel, in their order; when all is in it and nothing is to be weighed, the parcel is checked.
 */
export async function scanItems(
  gharry: Application,
  { check: id, scans }: { readonly check: number; readonly scans: readonly BenchScan[] },
): Promise<Answer<{ view: BenchView; verdicts: readonly ScanRow['verdict'][] }>> {
  const verdicts: ScanRow['verdict'][] = []
  return atCheck(
    gharry,
    id,
    async (trx, check, facts) => {
      const counted = [...check.counted]
      const known = new Map((await scansOf(trx, id)).map((scan) => [scan.key, scan.verdict]))
      for (const { key, code, typed, at } of scans) {
        // Sent again, as the answer was lost: it is one scan.
        const before = known.get(key)
        if (before !== undefined) {
          verdicts.push(before)
          continue
        }
        const said = judgeScan(facts.inside, counted, code, typed)
        const right = said.verdict === 'right'
        const fresh = await addScan(trx, {
          ...{ checkId: id, key, at, code: code.slice(0, longestCode), verdict: said.verdict },
          ...{ line: 'line' in said ? said.line : null, pieces: right ? said.pieces : 0 },
        })
        verdicts.push(said.verdict)
        if (fresh && right) counted[said.line]! += said.pieces
      }
      await changeCheck(trx, id, { counted })
      await finishWhenWhole(gharry, trx, { ...check, counted }, facts)
      return null
    },
    // Scans that were kept while the line was down come late: what they say is known by then.
    (check, facts) => check.state === 'done' && isComplete(facts.inside, check.counted),
  ).then((answer) => (answer.ok ? { ...answer, verdicts } : answer))
}

/**
 * Takes the last scan that counted out of the parcel again; one that is checked is open once more, while it stands
 * here.
 */
export async function undoLast(gharry: Application, id: number): Promise<Answer<{ view: BenchView }>> {
  const known = await checkById(gharry.db, id)
  const label = known && (await labelById(gharry.db, known.labelId))
  if (known?.state === 'done' && label?.state === 'bought' && !label.dispatchedAt)
    await gharry.db.transaction((trx) => reopenCheck(trx, known))
  return atCheck(gharry, id, async (trx, check) => {
    const last = (await scansOf(trx, id)).findLast(({ verdict }) => verdict === 'right')
    if (!last || last.line === null) return refuse('not-found', 'Nothing was scanned yet.')
    const { line, pieces } = last
    await undoScan(trx, last.id)
    await changeCheck(trx, id, { counted: check.counted.map((n, i) => (i === line ? n - pieces : n)) })
    return null
  })
}

/** Takes what the scale shows; one that is off is asked about, and taken with a reason. */
export const weighParcel = (
  gharry: Application,
  { check: id, grams, why }: { readonly check: number; readonly grams: number; readonly why: string },
): Promise<Answer<{ view: BenchView }>> =>
  atCheck(gharry, id, async (trx, check, facts) => {
    if (!Number.isInteger(grams) || grams <= 0 || grams > 1_000_000)
      return refuse('bad-value', 'The scale shows nothing that a parcel weighs: empty it, and weigh again.')
    if (!isNear(grams, check.computed) && why.trim() === '')
      return refuse(
        'other-intent',
        `It weighs ${grams} g, and ${check.computed} g were worked out: is something missing, or too much in it?`,
      )
    await changeCheck(trx, id, { weight: grams, why: why.trim().slice(0, 300) })
    await finishWhenWhole(gharry, trx, { ...check, weight: grams }, facts)
    return null
  })

/** Puts a parcel aside with a reason: it is asked about until it is checked, or its label is voided. */
export const putParcelAside = (
  gharry: Application,
  {
    check: id,
    why,
    short = false,
  }: {
    readonly check: number
    readonly why: string
    /** What is missing is not on its shelf: the stock is corrected. */
    readonly short?: boolean | undefined
  },
): Promise<Answer<{ view: BenchView }>> =>
  atCheck(gharry, id, async (trx, check, { row, inside, label }) => {
    const reason = why.trim().slice(0, 300)
    if (reason === '') return refuse('bad-value', 'Say why it is put aside.')
    const at = gharry.now().toISOString()
    await changeCheck(trx, id, { state: 'aside', why: reason, doneAt: at })
    const sentence = `Put aside at ${check.bench}: ${reason}`
    await writeLog(trx, [{ order: row.id, at, author: check.author, sentence }])
    if (short)
      await correctShort(
        trx,
        label,
        inside.lines.map(({ sku, quantity }, i) => ({ sku, missing: quantity - (check.counted[i] ?? 0) })),
        { at, author: check.author, note: `${row.number} at ${check.bench}` },
      )
    return null
  })

/** All of it is in the parcel, and it was weighed where it has to be: it is checked. */
async function finishWhenWhole(gharry: Application, trx: Database, check: CheckRow, facts: ParcelFacts): Promise<void> {
  if (!isComplete(facts.inside, check.counted) || (facts.weighed && check.weight === null)) return
  const at = gharry.now().toISOString()
  if (!(await changeCheck(trx, check.id, { state: 'done', doneAt: at }))) return
  await markChecked(trx, check.labelId, at)
  const parcel = facts.of > 1 ? `Parcel ${check.position} of ${facts.of}` : 'The parcel'
  const weight = check.weight === null ? '' : `, ${check.weight} g`
  await writeLog(trx, [
    { order: check.orderId, at, author: check.author, sentence: `${parcel} was checked at ${check.bench}${weight}` },
  ])
}

/** Does something to a check that is open, and shows it as it is then. */
async function atCheck(
  gharry: Application,
  id: number,
  work: (trx: Database, check: CheckRow, facts: ParcelFacts) => Promise<Refused | null>,
  passes: (check: CheckRow, facts: ParcelFacts) => boolean = () => false,
): Promise<Answer<{ view: BenchView }>> {
  return gharry.db.transaction(async (trx): Promise<Answer<{ view: BenchView }>> => {
    const check = await checkById(trx, id)
    const facts = check && (await parcelFacts(trx, check.labelId, check.position))
    if (!check || !facts) return refuse('not-found', 'There is no such parcel at a bench.')
    if (check.state !== 'open' && !passes(check, facts))
      return refuse(
        'taken',
        `${facts.row.number} is not open here any more (${stateWords[check.state]}): scan it again.`,
      )
    if (facts.label.state !== 'bought' && check.state === 'open')
      return refuse('not-bought', `The label of ${facts.row.number} is ${facts.label.state}: put the parcel aside.`)
    if (check.state === 'open') {
      const refused = await work(trx, check, facts)
      if (refused) return refused
    }
    return { ok: true, view: await benchView(trx, (await checkById(trx, id))!, facts) }
  })
}

const stateWords = { open: 'open', done: 'checked', aside: 'put aside', left: 'taken over by another bench' } as const
