import { waitingStates } from '@/core/order'
import { missingReferences } from '@/core/rulebook/findings'
import { decisionById, type DecisionId, decisionPhrase, decisionValues, defaults } from '@/core/rulebook/language'
import { addAudit, orderRow, pinDetails, removePin, setPin, writeLog } from '@/data'
import { refuse, type Answer, type Application, type Refused } from '../shared/application'
import { routeAgain } from '../shared/routeOrders'
import { type InForce, rulebookInForce } from '../shared/rulebookInForce'

/** What stands where nobody decides may always be pinned: no hold, no bars, no ceiling. */
const isNone = (decision: string, value: unknown): boolean =>
  decision in defaults && JSON.stringify(value) === JSON.stringify(defaults[decision as DecisionId])

/** Why a value cannot be pinned for a decision; null when it can. */
export function wrongPin(decision: string, value: unknown, { ready }: InForce): Refused | null {
  const kind = decisionById.get(decision)
  if (!kind) return refuse('unknown-decision', `There is no decision "${decision}".`)
  if (isNone(decision, value)) return null
  const parsed = decisionValues[kind.type].safeParse(value)
  if (!parsed.success)
    return refuse('bad-value', `${kind.name}: ${parsed.error.issues[0]?.message ?? 'this value is of the wrong kind'}.`)
  const [missing] = missingReferences(kind, value, ready.world)
  return missing === undefined ? null : refuse('missing', missing)
}

/** A pinned value in words. */
export const pinPhrase = (decision: string, value: unknown, { ready, rulebook }: InForce): string =>
  decision === 'hold' && value === null
    ? 'released'
    : decisionPhrase(decision, value, { world: ready.world, groups: rulebook.groups }) || 'none'

/** Sets a decision of a waiting order by hand; it beats every rule and outlives re-routing until it is released. */
export async function pinDecision(
  gharry: Application,
  orderId: number,
  decision: string,
  value: unknown,
): Promise<Answer<object>> {
  const inForce = await rulebookInForce(gharry)
  if (!inForce) return refuse('no-edition', 'Publish a rulebook first.')
  const wrong = wrongPin(decision, value, inForce)
  if (wrong) return wrong
  const kind = decisionById.get(decision)!
  return changePins(gharry, orderId, async (db, author, now) => {
    const before = (await pinDetails(db, orderId)).find((pin) => pin.decision === kind.id)?.value
    await setPin(db, orderId, kind.id, value, author, now)
    await addAudit(db, { action: `${kind.name} pinned by hand`, about: `order ${orderId}`, before, after: value }, now)
    return `${kind.name} pinned by hand: ${pinPhrase(decision, value, inForce)}`
  })
}

/** Lets the rules decide again. */
export async function releasePin(gharry: Application, orderId: number, decision: string): Promise<Answer<object>> {
  const kind = decisionById.get(decision)
  if (!kind) return refuse('unknown-decision', `There is no decision "${decision}".`)
  return changePins(gharry, orderId, async (db, _author, now) => {
    const before = (await pinDetails(db, orderId)).find((pin) => pin.decision === kind.id)?.value
    if (!(await removePin(db, orderId, kind.id))) return null
    await addAudit(db, { action: `${kind.name} released`, about: `order ${orderId}`, before }, now)
    return `${kind.name}: hand pin released, the rules decide again`
  })
}

async function changePins(
  gharry: Application,
  orderId: number,
  change: (db: Application['db'], author: string, now: string) => Promise<string | null>,
): Promise<Answer<object>> {
  const inForce = await rulebookInForce(gharry)
  if (!inForce) return refuse('no-edition', 'Publish a rulebook first.')
  return gharry.db.transaction(async (trx): Promise<Answer<object>> => {
    const row = await orderRow(trx, orderId)
    if (!row) return refuse('unknown-order', 'There is no such order.')
    if (!waitingStates.includes(row.state))
      return refuse('not-waiting', `Order ${row.number} is ${row.state}: its decisions stand. Void the label first.`)
    const now = gharry.now().toISOString()
    const sentence = await change(trx, gharry.settings.author, now)
    if (sentence === null) return { ok: true }
    await writeLog(trx, [{ order: orderId, at: now, author: gharry.settings.author, sentence }])
    await routeAgain(gharry, trx, [orderId], inForce)
    return { ok: true }
  })
}
