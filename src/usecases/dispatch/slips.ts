import {
  blocksOf,
  fillTemplate,
  holds,
  layoutSlip,
  type Page,
  type SlipBlock,
  type SlipContent,
  type SlipTemplate,
} from '@/core/papers'
import { type Budget, documentBudget } from '@/core/texts'
import { rulesWithSlip } from '@/core/rulebook/language'
import { slipSchema } from '@/core/world'
import { decisionOf, findOrder, listChannels, newestOrder, newestWorld, ordersById, readDraft } from '@/data'
import { printedAddress } from '@/core/address'
import { changeWorld } from '../shared/changeWorld'
import { refuse, type Answer, type Application } from '../shared/application'
import { slipContent } from './parcelPapers'
import { rulebookInForce } from '../shared/rulebookInForce'

export interface SlipsView {
  readonly version: number
  readonly slips: readonly SlipTemplate[]
}

/** All slip templates, each with its blocks. */
export async function showSlips(gharry: Application): Promise<SlipsView | null> {
  const newest = await newestWorld(gharry.db)
  return newest
    ? { version: newest.version, slips: newest.world.slips.map((slip) => ({ ...slip, blocks: blocksOf(slip) })) }
    : null
}

/**
 * Takes a template into the world, a new one or in place of the one with its identifier. Printed papers change;
 * decisions do not.
 */
export async function saveSlip(
  gharry: Application,
  given: unknown,
  version: number,
): Promise<Answer<{ version: number }>> {
  const parsed = slipSchema.safeParse(given)
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!
    return refuse(
      'bad-slip',
      `${issue.path[0] === 'blocks' && typeof issue.path[1] === 'number' ? `Block ${issue.path[1] + 1}: ` : ''}${issue.path.slice(issue.path[0] === 'blocks' ? 2 : 0).join(' › ')} ${issue.message}.`,
    )
  }
  const slip = parsed.data as SlipTemplate
  const [problem] = problemsOf(blocksOf(slip), anyContent, documentBudget(previewBudget))
  if (problem) return refuse('bad-slip', `Block ${problem.block + 1}: ${problem.sentence}`)
  return changeWorld(gharry, version, '', (world) => ({
    ...world,
    slips: world.slips.some(({ id }) => id === slip.id)
      ? world.slips.map((other) => (other.id === slip.id ? slip : other))
      : [...world.slips, slip],
  }))
}

/** Takes a template away, unless a rule still prints it. */
export async function removeSlip(
  gharry: Application,
  id: string,
  version: number,
): Promise<Answer<{ version: number }>> {
  const inForce = await rulebookInForce(gharry)
  const draft = await readDraft(gharry.db)
  const user = [inForce?.rulebook, draft?.rulebook].flatMap((rulebook) =>
    rulebook ? rulesWithSlip(rulebook, id) : [],
  )[0]
  if (user) return refuse('in-use', `The rule "${user}" prints this slip: change the rule and publish first.`)
  return changeWorld(gharry, version, '', (world) =>
    world.slips.length > 1
      ? { ...world, slips: world.slips.filter((slip) => slip.id !== id) }
      : refuse('last-slip', 'At least one slip template must remain.'),
  )
}

export interface SlipPreview {
  readonly pages: readonly Page[]
  readonly number: string
  /** What cannot be filled, block by block; blocks without a mistake are left out. */
  readonly problems: readonly { readonly block: number; readonly sentence: string }[]
  /** Blocks that are not printed for this order. */
  readonly left: readonly number[]
}

const previewBudget = 120

/** What a template is read with before it is saved: only whether it can be read counts. */
const anyContent: SlipContent = {
  orderNumber: '',
  channelName: '',
  placedOn: '',
  buyerName: '',
  country: '',
  value: '',
  quantity: 1,
  wording: '',
  message: '',
  tags: [],
  trackingNumber: '',
  parcelText: '',
  reprint: '',
  toLines: [],
  items: [],
  inserts: [],
}

/** What cannot be filled, at most one for each block. */
const problemsOf = (blocks: readonly SlipBlock[], content: SlipContent, budget: Budget): SlipPreview['problems'] =>
  blocks.flatMap((block, i) =>
    [block.text ?? '', ...Object.values(block.texts ?? {}), block.when ? `{% if ${block.when} %}{% endif %}` : '']
      .flatMap((text) => {
        const filled = fillTemplate(text, content, budget)
        return filled.ok ? [] : [{ block: i, sentence: filled.sentence }]
      })
      .slice(0, 1),
  )

/** A template as it would be printed for an order (by its number, or the newest one). Nothing is saved. */
export async function previewSlip(
  gharry: Application,
  template: unknown,
  number: string,
): Promise<Answer<SlipPreview>> {
  const parsed = slipSchema.safeParse(template)
  if (!parsed.success) return refuse('bad-slip', 'The template is not whole yet.')
  const slip = parsed.data as SlipTemplate
  const id = number.trim() === '' ? await newestOrder(gharry.db) : await findOrder(gharry.db, number.trim())
  if (id === undefined)
    return refuse(
      'unknown-order',
      number.trim() === '' ? 'There is no order yet to show it with.' : `There is no order "${number.trim()}".`,
    )
  const [stored] = await ordersById(gharry.db, [id])
  const decided = await decisionOf(gharry.db, id)
  const { order } = stored!
  const channels = new Map((await listChannels(gharry.db)).map((channel) => [channel.id, channel.name]))
  const content = slipContent(order, channels.get(order.channel) ?? order.channel, {
    toLines: printedAddress(order.shipTo),
    items: order.items.map(({ sku, title, quantity }) => ({ sku, title, quantity })),
    inserts: (decided?.outcome.decisions.inserts ?? []).map(({ name }) => name),
    tags: decided?.outcome.decisions.tags ?? [],
    trackingNumber: '',
    parcelText: '',
    reprint: '',
  })
  const blocks = blocksOf(slip)
  const budget = documentBudget(previewBudget)
  return {
    ok: true,
    pages: layoutSlip(content, slip, budget).slice(0, 4),
    number: order.number,
    problems: problemsOf(blocks, content, budget),
    left: blocks.flatMap((block, i) => (holds(block.when ?? '', content, budget) ? [] : [i])),
  }
}
