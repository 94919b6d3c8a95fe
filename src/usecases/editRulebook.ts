import { checkRulebook, rulebookSchema, type Finding, type Rulebook, type World } from '@/core/rulebook'
import { addEdition, addJob, addWorld, editionInForce, editionNumbered, listEditions, newestJob, newestWorld, readDraft, readFlow, replaceDraft, type Edition, type FlowCounts } from '@/data'
import { refuse, type Answer, type Gharry } from './gharry'

export interface RulebookView {
  readonly draft: Rulebook
  readonly revision: number
  readonly findings: readonly Finding[]
  readonly inForce: { readonly number: number; readonly rulebook: Rulebook } | null
  readonly editions: readonly Omit<Edition, 'rulebook'>[]
  readonly world: World
  readonly flow: { readonly counts: FlowCounts; readonly countedAt: string } | null
  readonly routing: { readonly done: number; readonly total: number; readonly state: string; readonly result: string | null } | null
}

const emptyWorld: World = { rates: { home: 'EUR', micro: {} }, locations: [], presets: [], carriers: [], services: [], slips: [], items: [], customsUnion: [] }
const emptyRulebook: Rulebook = { name: 'Rulebook', groups: [], rules: [] }

/** Everything that the Rules screen shows. */
export async function showRulebook(gharry: Gharry): Promise<RulebookView> {
  const { db } = gharry
  const inForce = await editionInForce(db)
  const draft = await readDraft(db)
  const world = (await newestWorld(db))?.world ?? emptyWorld
  const rulebook = draft?.rulebook ?? inForce?.rulebook ?? emptyRulebook
  const job = await newestJob(db, 'route again')
  return {
    draft: rulebook,
    revision: draft?.revision ?? 0,
    findings: checkRulebook(rulebook, world),
    inForce: inForce ? { number: inForce.number, rulebook: inForce.rulebook } : null,
    editions: await listEditions(db),
    // The item list is long, and no rule refers to it by name.
    world: { ...world, items: [] },
    flow: inForce ? ((await readFlow(db, inForce.number)) ?? null) : null,
    routing: job ? { done: job.done, total: job.total, state: job.state, result: job.result } : null,
  }
}

/** Saves the draft, if nobody else has saved since the editor began. */
export async function saveDraft(gharry: Gharry, content: unknown, revision: number): Promise<Answer<{ revision: number; findings: readonly Finding[] }>> {
  const parsed = rulebookSchema.safeParse(content)
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!
    return refuse('bad-rulebook', `The draft was not saved: ${issue.path.join(' › ')} ${issue.message}.`)
  }
  const world = (await newestWorld(gharry.db))?.world ?? emptyWorld
  if (!(await replaceDraft(gharry.db, parsed.data, revision, gharry.now().toISOString())))
    return refuse('draft-changed', 'Somebody else has changed the draft meanwhile. Load it again; your change is still on this screen.')
  return { ok: true, revision: revision + 1, findings: checkRulebook(parsed.data, world) }
}

/** Makes the draft the edition in force and has all waiting orders routed again. */
export async function publishDraft(gharry: Gharry, revision: number, note: string): Promise<Answer<{ edition: number }>> {
  const { db } = gharry
  const draft = await readDraft(db)
  if (!draft || draft.revision !== revision) return refuse('draft-changed', 'The draft has changed meanwhile: look at it again before publishing.')
  const world = (await newestWorld(db))?.world ?? emptyWorld
  const error = checkRulebook(draft.rulebook, world).find((finding) => finding.severity === 'error')
  if (error) return refuse('has-errors', `Not published: rule "${draft.rulebook.rules.find((rule) => rule.id === error.rule)?.name ?? ''}": ${error.sentence}`)
  const now = gharry.now().toISOString()
  const edition = await db.transaction(async (trx) => {
    const number = await addEdition(trx, draft.rulebook, note, gharry.settings.author, now)
    await addJob(trx, 'route again', `edition-${number}`, { edition: number, after: 0 }, now)
    await addJob(trx, 'count flow', `flow-${number}`, { edition: number }, now)
    return number
  })
  gharry.log.info({ edition }, 'rulebook published')
  return { ok: true, edition }
}

/** Brings an edition back as the draft. */
export async function restoreEdition(gharry: Gharry, number: number, revision: number): Promise<Answer<{ revision: number; findings: readonly Finding[] }>> {
  const edition = await editionNumbered(gharry.db, number)
  return edition ? saveDraft(gharry, edition.rulebook, revision) : refuse('unknown-edition', `There is no edition ${number}.`)
}

/** Replaces the list of package presets: a new version of the world; waiting orders are routed again. */
export async function changePresets(gharry: Gharry, presets: World['presets']): Promise<Answer<object>> {
  const { db } = gharry
  const current = await newestWorld(db)
  if (!current) return refuse('no-world', 'There is no world yet: run the demo, or load one.')
  const now = gharry.now().toISOString()
  await db.transaction(async (trx) => {
    const version = await addWorld(trx, { ...current.world, presets }, now)
    await addJob(trx, 'route again', `world-${version}`, { after: 0 }, now)
  })
  return { ok: true }
}
