import { firstLocation, type World } from '@/core/world'
import { countUses, editionInForce, editionsToCome, listConnections, readDraft, type Database } from '@/data'
import { refuse, type Answer, type Application, type Refused } from '../shared/application'
import { changeWorld, currentWorld } from '../shared/changeWorld'
import { heedOutages } from '../shared/heedOutages'
import { effectOnWaiting, type WaitingEffect } from '../shared/effectOnWaiting'
import { keyOf, type ListChange, type ListName, nameOf, rulesThatMiss, withChange } from './lists'

/** Where a thing of a list is used, which keeps it from being deleted or retired. */
export interface Uses {
  /** Rules that name it, of the draft, the edition in force and those to come. */
  readonly rules: readonly string[]
  /** What else names it, in words. */
  readonly others: readonly string[]
  /** Orders and labels of the past that it is a part of: with any it is retired, not deleted. */
  readonly past: number
}

/** What saving a change would do, before it is saved. */
export interface ListPreview {
  readonly ok: true
  /** Absent when nothing is decided differently by such a list. */
  readonly effect: WaitingEffect | null
}

/** Takes a change of one thing into its list; the waiting orders are routed again. */
export async function changeList(
  gharry: Application,
  change: ListChange,
): Promise<Answer<{ version: number; thing: unknown }>> {
  const { list, before, after } = change
  const refused = await whyKept(gharry, change)
  if (refused) return refused
  let thing: unknown = null
  const answer = await changeWorld(gharry, null, causeOf(change, gharry.now().toISOString()), (world) => {
    const changed = withChange(world, change)
    if ('ok' in changed) return changed
    ;({ thing } = changed)
    return changed.world
  })
  if (!answer.ok) return answer
  if (list === 'outages') await heedOutages(gharry)
  gharry.log.info({ list, key: keyOf(list, after ?? before) }, 'a list was changed')
  return { ...answer, thing }
}

/** Why waiting orders are routed again; an outage sees to that itself, when it begins and when it ends. */
function causeOf({ list, before, after }: ListChange, now: string): string {
  if (list === 'outages') {
    const ended = before as { from: string; until: string } | null
    return ended && ended.from <= now && now < ended.until ? 'An outage was called off' : ''
  }
  const name = nameOf(list, after ?? before).replace(/^this /, 'A ')
  if (before === null) return `${name} is new`
  return after === null ? `${name} was deleted` : `${name} changed`
}

/** What a change would do to the waiting orders. */
export async function previewList(gharry: Application, change: ListChange): Promise<Answer<ListPreview>> {
  const { world } = await currentWorld(gharry.db)
  const changed = withChange(world, change)
  if ('ok' in changed) return changed
  // An outage of later is looked at in its own time.
  const from = change.list === 'outages' && change.after ? Date.parse((change.after as { from: string }).from) : 0
  const at = Math.max(gharry.now().getTime(), from)
  return { ok: true, effect: await effectOnWaiting(gharry, world, changed.world, at) }
}

/** Where something is used. */
export async function showUses(gharry: Application, list: ListName, key: string): Promise<Uses> {
  const { world } = await currentWorld(gharry.db)
  const thing = ((world[list] ?? []) as readonly object[]).find((one) => keyOf(list, one) === key)
  return thing ? usesOf(gharry, world, list, thing) : { rules: [], others: [], past: 0 }
}

/** Why something that is to be deleted or retired has to stay; null when it may go. */
async function whyKept(gharry: Application, { list, before, after }: ListChange): Promise<Refused | null> {
  const goes =
    after === null || ((after as { retired?: boolean }).retired && !(before as { retired?: boolean }).retired)
  if (!goes || before === null || list === 'tariffs' || list === 'outages') return null
  const { world } = await currentWorld(gharry.db)
  const { rules, others, past } = await usesOf(gharry, world, list, before)
  const name = nameOf(list, before)
  if (rules.length > 0)
    return refuse(
      'in-use',
      `${rules.length === 1 ? `The rule “${rules[0]!}” names` : `${rules.length} rules name`} ${name}: change ${rules.length === 1 ? 'it' : 'them'} and publish first.`,
    )
  if (others.length > 0) return refuse('in-use', `${name} is still used: ${others.join('; ')}.`)
  if (after === null && past > 0)
    return refuse(
      'in-use',
      `${name} is in ${past} ${past === 1 ? 'order' : 'orders'} of the past, which keep its name: retire it instead.`,
    )
  if (
    list === 'locations' &&
    firstLocation({ locations: world.locations.filter(({ id }) => id !== keyOf(list, before)) }) === undefined
  )
    return refuse('in-use', 'At least one location must remain, or nothing can be sent.')
  return null
}

async function usesOf(gharry: Application, world: World, list: ListName, thing: object): Promise<Uses> {
  const { db } = gharry
  const key = keyOf(list, thing)
  const without = {
    ...world,
    [list]: ((world[list] ?? []) as readonly object[]).filter((one) => one !== thing && keyOf(list, one) !== key),
  }
  return {
    rules: await rulesNaming(gharry, world, without),
    others: await otherUses(db, world, list, key),
    past: await countUses(db, list, key),
  }
}

/** The rules, of the draft, the edition in force and those to come, that name something which `without` lacks. */
export async function rulesNaming({ db, now }: Application, world: World, without: World): Promise<string[]> {
  const at = now().toISOString()
  const rulebooks = [
    (await editionInForce(db, at))?.rulebook,
    ...(await editionsToCome(db, at)).map(({ rulebook }) => rulebook),
    (await readDraft(db))?.rulebook,
  ]
  return [...new Set(rulebooks.flatMap((rulebook) => (rulebook ? rulesThatMiss(rulebook, world, without) : [])))]
}

async function otherUses(db: Database, world: World, list: ListName, key: string): Promise<string[]> {
  const count = (n: number, one: string, many = `${one}s`): string[] =>
    n === 0 ? [] : [`${n} ${n === 1 ? one : many}`]
  const wordings = (world.wordings ?? []).flatMap(({ rows }) => rows)
  switch (list) {
    case 'carriers': {
      const accounts = (await listConnections(db)).filter(
        ({ role, belongsTo }) => role === 'carrier' && belongsTo === key,
      )
      const services = world.services.filter(({ carrier, retired }) => carrier === key && !retired)
      return [...count(services.length, 'service'), ...count(accounts.length, 'account')]
    }
    case 'services':
      return count(
        wordings.filter(({ gives: { pick } }) => pick?.by === 'service' && pick.service === key).length,
        'row of a wording table',
        'rows of wording tables',
      )
    case 'presets':
      return count(
        wordings.filter(({ gives: { preset } }) => preset === key).length,
        'row of a wording table',
        'rows of wording tables',
      )
    default:
      return []
  }
}
