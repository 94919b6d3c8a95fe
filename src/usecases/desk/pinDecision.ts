import { waitingStates } from '@/core/order'
import { missingReferences } from '@/core/rulebook/findings'
import { decisionById, decisionPhrase, decisionValues } from '@/core/rulebook/language'
import { orderRow, removePin, setPin, writeLog } from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { routeAgain } from '../shared/routeOrders'
import { rulebookInForce } from '../shared/rulebookInForce'

/** Sets a decision of a waiting order by hand; it beats every rule and outlives re-routing until it is released. */
export async function pinDecision(
  gharry: Application,
  orderId: number,
  decision: string,
  value: unknown,
): Promise<Answer<object>> {
  const kind = decisionById.get(decision)
  if (!kind) return refuse('unknown-decision', `There is no decision "${decision}".`)
  // A hold pinned to nothing is a release.
  const released = decision === 'hold' && value === null
  const parsed = decisionValues[kind.type].safeParse(value)
  if (!released && !parsed.success)
    return refuse('bad-value', `${kind.name}: ${parsed.error.issues[0]?.message ?? 'this value is of the wrong kind'}.`)
  const inForce = await rulebookInForce(gharry)
  if (!inForce) return refuse('no-edition', 'Publish a rulebook first.')
  const { world } = inForce.ready
  const missing = released ? [] : missingReferences(kind, value, world)
  if (missing[0]) return refuse('missing', missing[0])
  return changePins(gharry, orderId, async (db, author, now) => {
    await setPin(db, orderId, kind.id, value, author, now)
    return `${kind.name} pinned by hand: ${released ? 'released' : decisionPhrase(decision, value, { world, groups: inForce.rulebook.groups })}`
  })
}

/** Lets the rules decide again. */
export async function releasePin(gharry: Application, orderId: number, decision: string): Promise<Answer<object>> {
  const kind = decisionById.get(decision)
  if (!kind) return refuse('unknown-decision', `There is no decision "${decision}".`)
  return changePins(gharry, orderId, async (db) =>
    (await removePin(db, orderId, kind.id)) ? `${kind.name}: hand pin released, the rules decide again` : null,
  )
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
