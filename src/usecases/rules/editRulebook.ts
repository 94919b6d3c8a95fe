import { dayOf, instantAt, isDay } from '@/core/calendar'
import type { PinnedResult } from '@/core/rulebook/decide'
import { checkRulebook, type Finding, findLogic, newGaps } from '@/core/rulebook/findings'
import { emptyRulebook, type Rulebook, rulebookSchema } from '@/core/rulebook/language'
import { emptyWorld, firstZone, type World } from '@/core/world'
import { rulebookDifference } from '@/core/rulebook/change'
import {
  addAudit,
  addEdition,
  editionInForce,
  editionNumbered,
  editionOfRevision,
  listChannels,
  countEditions,
  editionsPage,
  nextEdition,
  type ListedEdition,
  newestJob,
  newestWorld,
  readDraft,
  readFlow,
  replaceDraft,
  withdrawEdition,
  type FlowCounts,
  frequentTags,
  frequentValues,
} from '@/data'
import { refuse, type Answer, type Application, type Refused } from '../shared/application'
import { pinnedResults } from './pinnedOrders'
import { announce } from '../open/announce'
import { routeByEdition } from '../shared/routeOrders'

export interface RulebookView {
  readonly draft: Rulebook
  readonly revision: number
  readonly findings: readonly Finding[]
  /** How the pinned orders fare under the draft. */
  readonly pinned: readonly PinnedResult[]
  readonly inForce: { readonly number: number; readonly rulebook: Rulebook } | null
  /** The edition that comes into force next. */
  readonly next: { readonly number: number; readonly inForceAt: string } | null
  /** How many were published. */
  readonly editions: number
  readonly world: World
  readonly channels: readonly { readonly id: string; readonly name: string }[]
  readonly flow: { readonly counts: FlowCounts; readonly countedAt: string } | null
  readonly routing: {
    readonly done: number
    readonly total: number
    readonly state: string
    readonly result: string | null
  } | null
}

/** Everything that the Rules screen shows. */
export async function showRulebook(gharry: Application): Promise<RulebookView> {
  const { db } = gharry
  const inForce = await editionInForce(db, gharry.now().toISOString())
  const draft = await readDraft(db)
  const world = (await newestWorld(db))?.world ?? emptyWorld
  const rulebook = draft?.rulebook ?? inForce?.rulebook ?? emptyRulebook
  const job = await newestJob(db, 'route again')
  return {
    draft: rulebook,
    revision: draft?.revision ?? 0,
    findings: checkRulebook(rulebook, world),
    pinned: await pinnedResults(db, rulebook, world),
    inForce: inForce ? { number: inForce.number, rulebook: inForce.rulebook } : null,
    next: (await nextEdition(db, gharry.now().toISOString())) ?? null,
    editions: await countEditions(db),
    world: await showWorld(gharry),
    channels: (await listChannels(db)).map(({ id, name }) => ({ id, name })),
    flow: inForce ? ((await readFlow(db, inForce.number)) ?? null) : null,
    routing: job ? { done: job.done, total: job.total, state: job.state, result: job.result } : null,
  }
}

/** A page of the editions that were published. */
export interface EditionsView {
  readonly editions: readonly ListedEdition[]
  readonly pageSize: number
  readonly total: number
}
const editionsAPage = 50

/** The editions after the newest `skip`, the newest first. */
export const showEditions = async ({ db }: Application, skip: number): Promise<EditionsView> => ({
  editions: await editionsPage(db, editionsAPage, skip),
  pageSize: editionsAPage,
  total: await countEditions(db),
})

/** The world as far as the interface names things of it: no item list, no tariffs. */
export const showWorld = async (gharry: Application): Promise<World> =>
  worldOfNames((await newestWorld(gharry.db))?.world ?? emptyWorld)

export const worldOfNames = (world: World): World => ({
  ...world,
  items: [],
  services: world.services.map((service) => ({ ...service, zones: [] })),
  tariffs: [],
  holidays: [],
})

/** Saves the draft, if nobody else has saved since the editor began. */
export async function saveDraft(
  gharry: Application,
  content: unknown,
  revision: number,
): Promise<Answer<{ revision: number; findings: readonly Finding[] }>> {
  const parsed = rulebookSchema.safeParse(content)
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!
    return refuse('bad-rulebook', `The draft was not saved: ${issue.path.join(' › ')} ${issue.message}.`)
  }
  const world = (await newestWorld(gharry.db))?.world ?? emptyWorld
  if (!(await replaceDraft(gharry.db, parsed.data, revision, gharry.now().toISOString())))
    return refuse(
      'draft-changed',
      'Somebody else has changed the draft meanwhile. Load it again; your change is still on this screen.',
    )
  return { ok: true, revision: revision + 1, findings: checkRulebook(parsed.data, world) }
}

/**
 * Makes the draft an edition, in force at once or from the beginning of a day (`YYYY-MM-DD`) at the first location; all
 * waiting orders are then routed again. Broken pinned orders and new gaps need a note.
 */
export async function publishDraft(
  gharry: Application,
  revision: number,
  note: string,
  from = '',
): Promise<Answer<{ edition: number; inForceAt: string }>> {
  const { db } = gharry
  const draft = await readDraft(db)
  if (!draft || draft.revision !== revision) return changedMeanwhile
  const world = (await newestWorld(db))?.world ?? emptyWorld
  const against = await againstPublishing(gharry, draft.rulebook, world, note !== '')
  if (against) return against
  const now = gharry.now().toISOString()
  if (from !== '' && !isDay(from)) return refuse('bad-day', `"${from}" is no day such as 2026-12-24.`)
  const inForceAt = from === '' ? now : new Date(instantAt(dayOf(from), 0, firstZone(world))).toISOString()
  if (from !== '' && inForceAt <= now)
    return refuse('past-day', `${from} has begun already: choose a later day, or publish at once.`)
  return db.transaction(async (trx): Promise<Answer<{ edition: number; inForceAt: string }>> => {
    // Checking takes a while: another one may have asked for the same, or have changed the draft.
    const published = await editionOfRevision(trx, revision)
    if (published !== undefined) return refuse('published-before', `This draft is edition ${published} already.`)
    if ((await readDraft(trx))?.revision !== revision) return changedMeanwhile
    const inForceBefore = await editionInForce(trx, now)
    const changes = rulebookDifference(inForceBefore?.rulebook ?? emptyRulebook, draft.rulebook, world)
      .slice(0, 100)
      .map(({ sentence }) => sentence)
    const later = from === '' ? null : inForceAt
    const number = await addEdition(trx, draft.rulebook, note, gharry.settings.author, now, later, revision)
    if (later === null) await routeByEdition(trx, number, now)
    await addAudit(
      trx,
      {
        ...{ action: 'rulebook published', about: `edition ${number}` },
        before: { edition: inForceBefore?.number ?? null },
        after: { note, inForceAt, changes },
      },
      now,
    )
    await announce(trx, gharry.now(), [{ type: 'edition.published', data: { edition: number, note, inForceAt } }])
    gharry.log.info({ edition: number, inForceAt }, 'rulebook published')
    return { ok: true, edition: number, inForceAt }
  })
}

const changedMeanwhile = refuse('draft-changed', 'The draft has changed meanwhile: look at it again before publishing.')

/** Why a draft is not published: its errors; and, where no note says why, broken pinned orders and new gaps. */
async function againstPublishing(
  gharry: Application,
  draft: Rulebook,
  world: World,
  explained: boolean,
): Promise<Refused | null> {
  const { db } = gharry
  const nameOf = (id: string): string => draft.rules.find((rule) => rule.id === id)?.name ?? ''
  const error = checkRulebook(draft, world).find((finding) => finding.severity === 'error')
  if (error) return refuse('has-errors', `Not published: rule "${nameOf(error.rule)}": ${error.sentence}`)
  if (explained) return null
  const broken = (await pinnedResults(db, draft, world)).filter((result) => result.broken.length > 0)
  if (broken.length > 0)
    return refuse(
      'pins-broken',
      `${broken.length === 1 ? `The pinned order "${broken[0]!.name}" is` : `${broken.length} pinned orders are`} decided differently by this draft: correct the draft, pin them again, or say in the note why it is right.`,
    )
  const before = (await editionInForce(db, gharry.now().toISOString()))?.rulebook ?? emptyRulebook
  const [gap] = newGaps(findLogic(draft, world, gharry.now().getTime()), before, world)
  return gap
    ? refuse(
        'new-gaps',
        `This draft leaves no service for orders that have one now: “${nameOf(gap.rule)}”. ${gap.sentence} Correct the draft, or say in the note why it is right.`,
      )
    : null
}

/** Takes back an edition before it comes into force. */
export async function withdrawScheduled(gharry: Application, number: number): Promise<Answer<object>> {
  const now = gharry.now().toISOString()
  const withdrawn = await gharry.db.transaction(async (trx) => {
    const done = await withdrawEdition(trx, number, now)
    if (done) await addAudit(trx, { action: 'edition withdrawn', about: `edition ${number}` }, now)
    return done
  })
  return withdrawn
    ? { ok: true }
    : refuse(
        'in-force',
        `Edition ${number} is not waiting to come into force: bring another edition back as the draft and publish it.`,
      )
}

/** Brings an edition back as the draft. */
export async function restoreEdition(
  gharry: Application,
  number: number,
  revision: number,
): Promise<Answer<{ revision: number; findings: readonly Finding[] }>> {
  const edition = await editionNumbered(gharry.db, number)
  return edition
    ? saveDraft(gharry, edition.rulebook, revision)
    : refuse('unknown-edition', `There is no edition ${number}.`)
}

/** Values seen in orders of the last 90 days, most frequent first, for the editor to suggest. */
export async function seenValues(
  gharry: Application,
): Promise<Record<string, { id: string; name: string; hint: string }[]>> {
  const since = new Date(gharry.now().getTime() - 90 * 86_400_000).toISOString()
  const items = (await newestWorld(gharry.db))?.world.items ?? []
  const suggest = (values: readonly string[]): { id: string; name: string; hint: string }[] =>
    values.map((value) => ({ id: value, name: value, hint: '' }))
  const found: Record<string, { id: string; name: string; hint: string }[]> = {
    sku: items.map((card) => ({ id: card.sku, name: card.sku, hint: card.title })),
    'item tags': suggest([...new Set(items.flatMap((card) => card.tags))]),
    'dangerous goods': suggest([...new Set(items.map((card) => card.dangerousGoods).filter(Boolean))]),
  }
  for (const [fact, column] of [
    ['channel', 'channelId'],
    ['country', 'country'],
    ['wording', 'wording'],
    ['city', 'city'],
  ] as const) {
    const rows = await frequentValues(gharry.db, column, since)
    found[fact] = rows.map(({ value, n }) => ({ id: value, name: value, hint: `${n} orders` }))
  }
  const tags = await frequentTags(gharry.db)
  found.tags = tags.map(({ value, n }) => ({ id: value, name: value, hint: `${n} orders` }))
  return found
}
