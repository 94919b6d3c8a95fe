import { speeds } from '@/core/rating'
import { noticeSteps } from '@/core/telling'
import {
  type Action,
  addressKinds,
  decisionById,
  type DecisionKind,
  decisionKinds,
  decisionPhrase,
  needs,
  nobody,
  originWays,
  priorities,
  readLimits,
  readUntil,
  splits,
  type Stage,
  stageIndex,
  type Wordings,
} from '@/core/rulebook/language'
import { money } from '@/core/units'
import { typedLength, typedWeight } from '../kit/read'
import { notation } from '../kit/locale'
import type { Choice } from './Chooser'
import { readQuantity } from './values'

type Type = DecisionKind['type']
type Reader = (text: string, words: Wordings) => unknown

/** How the value of an action is edited: chosen from a list, listed, or typed. */
export type Editing =
  | { readonly by: 'choice'; readonly label: string; readonly choices: (words: Wordings) => readonly Choice[] }
  | { readonly by: 'list'; readonly label: string; readonly choices: (words: Wordings) => readonly Choice[] }
  | { readonly by: 'text'; readonly label: string; readonly hint: string; readonly read: Reader }
  | { readonly by: 'own'; readonly read: Reader }

const plain = (list: readonly string[]): readonly Choice[] => list.map((name) => ({ id: name, name }))
const named = (list: readonly { readonly id: string; readonly name: string }[]): Choice[] =>
  list.map(({ id, name }) => ({ id, name }))
const choice = (label: string, choices: (words: Wordings) => readonly Choice[]): Editing => ({
  by: 'choice',
  label,
  choices,
})
const list = (label: string, choices: (words: Wordings) => readonly Choice[]): Editing => ({
  by: 'list',
  label,
  choices,
})
const text = (label: string, hint: string, read: Reader): Editing => ({ by: 'text', label, hint, read })

/** Words with commas between them; undefined where there is none. */
export function readTags(typed: string): readonly string[] | undefined {
  const found = typed
    .split(',')
    .map((tag) => tag.trim())
    .filter(Boolean)
  return found.length > 0 ? found : undefined
}

const tags = text('Tags', 'Tags with commas between them.', readTags)

const [nearest, cheapest] = originWays

/** The ways a service can be picked, before the services themselves; the identifier of a service is behind a colon. */
export const pickChoices = ({ world }: Wordings): readonly Choice[] => [
  { id: 'cheapest', name: 'the cheapest' },
  { id: 'fastest', name: 'the fastest' },
  { id: 'cheapest by promise', name: 'the cheapest that arrives by the promised day' },
  ...[80, 90, 95].map((chance) => ({
    id: `cheapest by promise ${chance}`,
    name: `the cheapest that arrives by the promised day with ${chance} %`,
  })),
  ...world.services.map(({ id, name }) => ({ id: `:${id}`, name })),
]
export function readPick(id: string): { by: string; service?: string; chance?: number } {
  const chance = /^(.+) (\d{1,2})$/.exec(id)
  if (id.startsWith(':')) return { by: 'service', service: id.slice(1) }
  return chance ? { by: chance[1]!, chance: Number(chance[2]) } : { by: id }
}

/** What an insurance can be for besides an amount. */
export const covers: readonly Choice[] = [
  { id: 'order value', name: 'the order value' },
  { id: 'none', name: 'nothing' },
]
export function readCover(typed: string): unknown {
  const known = chosenBy(typed, covers)
  if (known) return { cover: known }
  const amount = readQuantity('money', typed)
  return amount === undefined ? undefined : { cover: 'amount', amount }
}

/** How the values of each type are edited and read. */
export const editing: Readonly<Record<Type, Editing>> = {
  preset: choice('Package preset', ({ world }) => named(world.presets)),
  location: choice('Location', ({ world }) => [
    ...named(world.locations),
    { id: nearest, name: 'the nearest location with stock' },
    { id: cheapest, name: 'the cheapest location', hint: 'by its cheapest service' },
  ]),
  slip: choice('Slip template', ({ world }) => named(world.slips)),
  partner: choice('Partner', ({ world }) => [
    ...named(world.partners ?? []),
    { id: nobody, name: 'nobody', hint: 'whatever the location says' },
  ]),
  'yes/no': choice('Value', () => plain(['yes', 'no'])),
  speed: choice('Speed', () => plain(speeds)),
  priority: choice('Priority', () => plain(priorities)),
  duties: choice('Duties', () => [
    { id: 'DAP', name: 'DAP', hint: 'the buyer pays duties and tax' },
    { id: 'DDP', name: 'DDP', hint: 'we pay them' },
  ]),
  moment: choice('When', () => [
    { id: 'bought', name: 'bought' },
    { id: 'dispatched', name: 'handed over' },
  ]),
  split: choice('When', () => plain(splits)),
  'address kind': choice('Address', () => plain(addressKinds)),
  slips: list('Add a document', ({ world }) => named(world.slips)),
  needs: list('Add something it must offer', () => plain(needs)),
  steps: list('Add a step', () => plain(noticeSteps)),
  services: list('Add a service or carrier', ({ world }) => [
    ...named(world.services),
    ...world.carriers.map(({ id, name }) => ({ id, name, hint: 'all services of the carrier' })),
  ]),
  size: text('Size', 'Length × width × height, such as 40 × 30 × 20 cm.', readSize),
  inserts: text('Inserts', 'Each with its weight, commas between: Heat pack 60 g, Leaflet 5 g.', readInserts),
  days: text('Days', 'A whole number of days.', (typed) =>
    /^\d{1,3}\s*(days?)?$/.test(typed.trim()) ? parseInt(typed, 10) : undefined,
  ),
  money: text('Amount', 'An amount such as 12.50, with its currency where it is another.', (typed) =>
    readQuantity('money', typed),
  ),
  grams: text('Grams', 'A weight such as 60 g, or -20 g.', (typed) => typedWeight(typed) ?? undefined),
  'ship day': text('Day', 'A weekday, a day such as 2026-12-24, or a span after the order such as 2 days.', readUntil),
  limits: text('Limits', 'Weight, longest side and pieces of one parcel, such as 15 kg, 60 cm, 4 pieces.', (typed) =>
    readLimits(typed, notation().decimal),
  ),
  tags,
  'item tags': tags,
  text: text('Text', 'Text on the label; {number}, {channel} and {sku} are filled in.', (typed) =>
    typed.trim() === '' ? undefined : typed.trim(),
  ),
  hold: { by: 'own', read: readHold },
  insurance: { by: 'own', read: readCover },
  picks: {
    by: 'own',
    read: (typed, words) => {
      const found = typed.split(/ else /i).map((part) => chosenBy(part, pickChoices(words)))
      return found.every((id) => id !== undefined) ? found.map(readPick) : undefined
    },
  },
}

/** What a new action of a kind begins with. */
export function newAction(id: string, { world }: Wordings): Action {
  const kind = decisionById.get(id)!
  const first: Readonly<Record<Type, unknown>> = {
    tags: ['new tag'],
    text: '{number}',
    hold: 'look at it first',
    grams: 50,
    'ship day': { weekday: 'Monday' },
    speed: 'express',
    priority: 'urgent',
    size: [400, 300, 200],
    inserts: [{ name: 'Leaflet', weight: 0 }],
    duties: 'DDP',
    needs: ['tracking'],
    steps: ['out for delivery'],
    'item tags': ['live'],
    limits: { weight: 15_000 },
    split: 'when cheaper',
    'address kind': 'company',
    days: 2,
    money: money(1000, world.rates.home),
    moment: 'dispatched',
    preset: world.presets[0]?.id ?? '',
    location: world.locations[0]?.id ?? '',
    insurance: { cover: 'order value' },
    'yes/no': true,
    picks: [{ by: 'cheapest' }],
    services: [world.services[0]?.id ?? ''],
    slip: world.slips[0]?.id ?? '',
    partner: world.partners?.[0]?.id ?? nobody,
    slips: [world.slips[0]?.id ?? ''],
  }
  return { set: kind.id, to: first[kind.type] }
}

/** Kinds of actions that a rule of a stage can have. */
export const kindsAt = (stage: Stage): readonly DecisionKind[] =>
  decisionKinds.filter((kind) => stageIndex(kind.stage) >= stageIndex(stage))

/** The verb as it is in a list: without its colon. */
export const verbOf = ({ verb }: DecisionKind): string => verb.replace(/:$/, '')

/** Types whose values are any words: what is behind half a verb may be the rest of a search. */
const anyWords: ReadonlySet<Type> = new Set<Type>(['hold', 'text', 'tags', 'item tags', 'inserts'])

/**
 * An action as it is typed in one go: `hold too heavy`, `insure 250 EUR`, `pack tall`, `never use Bramble, Dray`;
 * undefined when it is none. Words of the verb may be begun only (`pri urgent`), unless any words may be behind it.
 */
export function readTypedAction(typed: string, stage: Stage, words: Wordings): Action | undefined {
  const parts = typed.trim().split(/\s+/)
  const whole = parts.join(' ').toLowerCase()
  // Who types the beginning of a name looks for it in the list.
  if (kindsAt(stage).some((kind) => namesOf(kind).some((name) => name.toLowerCase().startsWith(whole))))
    return undefined
  for (let taken = parts.length - 1; taken > 0; taken--) {
    const head = parts.slice(0, taken).map((part) => part.toLowerCase().replace(/:$/, ''))
    const rest = parts.slice(taken).join(' ')
    for (const kind of kindsAt(stage)) {
      if (!namesOf(kind).some((name) => begun(head, name, anyWords.has(kind.type)))) continue
      const to = readActionValue(kind, rest, words)
      if (to !== undefined && decisionPhrase(kind.id, to, words) !== '') return { set: kind.id, to }
    }
  }
  return undefined
}

const namesOf = (kind: DecisionKind): readonly string[] => [verbOf(kind), kind.name, ...(kind.also ?? [])]

/** Whether words begin those of a name, in their order: `pri` of `priority`, `ship` of `ship from`. */
function begun(head: readonly string[], name: string, whole: boolean): boolean {
  const wanted = name.toLowerCase().split(' ')
  if (whole) return head.join(' ') === wanted.join(' ')
  return head.length <= wanted.length && head.every((part, i) => wanted[i]!.startsWith(part))
}

/** The value of a decision, typed; undefined when it cannot be read. */
export function readActionValue(kind: DecisionKind, typed: string, words: Wordings): unknown {
  const way = editing[kind.type]
  if (way.by === 'choice') {
    const id = chosenBy(typed, way.choices(words))
    return kind.type === 'yes/no' && id !== undefined ? id === 'yes' : id
  }
  if (way.by !== 'list') return way.read(typed, words)
  const found = typed.split(',').map((part) => chosenBy(part, way.choices(words)))
  return found.every((id) => id !== undefined) ? found : undefined
}

/** The one choice that is meant: by its identifier, its name, or the beginnings of words that no other has. */
function chosenBy(typed: string, choices: readonly Choice[]): string | undefined {
  const wanted = typed.trim().toLowerCase()
  const exact = choices.find(({ id, name }) =>
    [id, `${id}`.replace(/^:/, ''), name].some((is) => is.toLowerCase() === wanted),
  )
  if (exact || wanted === '') return exact?.id
  const parts = wanted.split(/\s+/)
  const fitting = choices.filter(({ name }) => {
    const said = name.toLowerCase().split(' ')
    return parts.every((part) => said.some((word) => word.startsWith(part)))
  })
  // A carrier may be called as its only service is.
  return fitting.every(({ name }) => name === fitting[0]!.name) ? fitting[0]?.id : undefined
}

/** `too heavy`, or with the moment it ends: `waits for Monday until Monday`. */
function readHold(typed: string): unknown {
  const [reason = '', until] = typed.split(/,? until /i)
  if (reason.trim() === '' || /^until\b/i.test(typed)) return undefined
  const moment = until === undefined ? undefined : readUntil(until)
  return moment ? { reason: reason.trim(), until: moment } : typed.trim()
}

function readSize(text: string): [number, number, number] | undefined {
  const unit = /[a-z]{1,6}$/i.exec(text.trim())?.[0] ?? 'cm'
  const sides = text.split(/[×x*]/i).map((side) => typedLength(side, unit))
  return sides.length === 3 && sides.every((side) => side !== null && side > 0)
    ? (sides as unknown as [number, number, number])
    : undefined
}

function readInserts(text: string): { name: string; weight: number }[] | undefined {
  const inserts = text.split(',').map((part) => {
    // The last word, or two, are the weight: `Heat pack 60 g`, `Leaflet (5g)`.
    const words = part.replace(/[()]/g, ' ').split(' ').filter(Boolean)
    for (const count of [2, 1]) {
      const end = words.slice(-count).join(' ')
      const weight = words.length > count && /^\d.{0,20}(?:g|kg|oz|lb)$/i.test(end) ? typedWeight(end) : null
      if (weight !== null) return { name: words.slice(0, -count).join(' '), weight }
    }
    return { name: part.trim(), weight: /^\d.{0,20}(?:g|kg|oz|lb)$/i.test(words[words.length - 1] ?? '') ? -1 : 0 }
  })
  return inserts.length > 0 && inserts.every(({ name, weight }) => name !== '' && weight >= 0) ? inserts : undefined
}
