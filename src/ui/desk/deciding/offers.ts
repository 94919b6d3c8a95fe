import type { HandEdit } from '@/core/rulebook/change'
import {
  type DecisionId,
  type DecisionKind,
  decisionKinds,
  decisionPhrase,
  type Wordings,
} from '@/core/rulebook/language'
import type { World } from '@/core/world'
import { notation } from '../../kit/locale'
import { weightText } from '../../kit/format'
import { typedWeight } from '../../kit/read'
import { covers, editing, pickChoices, readCover, readPick, readTags, readTypedAction } from '../../rules/actionValues'
import type { Choice } from '../../rules/Chooser'

/** Something that a person may decide by hand, found by what was typed. */
export interface Offer {
  readonly key: string
  readonly name: string
  /** The value in words; of what is only begun, how it goes on. */
  readonly value: string
  /** What it decides; without it, `fill` stands in the field, to be gone on with. */
  readonly edit?: HandEdit
  readonly fill?: string
}

/** Decided by rules alone: for single orders there is nothing to narrow or to automate. */
const byRules: ReadonlySet<DecisionId> = new Set([
  ...(['barred', 'allowed', 'buyByItself', 'inserts', 'needs', 'toldSteps', 'documents', 'combine', 'tags'] as const),
])
type Kind = DecisionKind & { readonly id: DecisionId }
/** What a person may decide by hand, of the rulebook's decisions. */
const kinds: readonly Kind[] = decisionKinds.filter(({ id }) => !byRules.has(id))

/** Whether a person may decide it for single orders. */
export const isDecidedByHand = (decision: string): boolean => kinds.some(({ id }) => id === decision)

const most = 12

/** The words in which values are said, in a world. */
export const wordsOf = (world: World): Wordings => ({ world, groups: [], notation: notation() })

/**
 * What may be meant by a text: a decision and its value, in any order (“corvid”, “urgent”), or the value after its name
 * (“hold call the buyer until Friday”, “weight 1.2 kg”, “tag gift”). With nothing typed, how it begins.
 */
export function offersFor(text: string, words: Wordings): readonly Offer[] {
  const typed = text.trim()
  if (typed === '') return beginnings
  const wanted = typed.toLowerCase().split(/\s+/)
  const fits = (hay: string): boolean => wanted.every((word) => hay.toLowerCase().includes(word))
  const offers = [
    ...typedPin(typed, words),
    ...ownOffers(typed),
    ...(/^(release|rules)\b/i.test(typed) ? releases(wanted.slice(1)) : []),
    ...kinds.flatMap((kind) =>
      choicesOf(kind, words)
        .filter(({ name }) => fits(`${namesOf(kind)} ${name}`))
        .map((choice) => pinOf(kind, choice.value, words)),
    ),
    ...[...beginnings, ...kinds.map(beginningOf)].filter(({ name, fill }) => fits(`${name} ${fill ?? ''}`)),
    // Where the rest cannot be read, how it is written.
    ...kinds.filter(({ name }) => afterName([name], typed) !== undefined).map(beginningOf),
  ]
  return [...new Map([...offers].reverse().map((offer) => [offer.key, offer])).values()].reverse().slice(0, most)
}

const namesOf = (kind: Kind): string => [kind.name, ...(kind.also ?? [])].join(' ')

const pinOf = (kind: Kind, value: unknown, words: Wordings): Offer => {
  const said = value === null ? 'released' : decisionPhrase(kind.id, value, words)
  return { key: `${kind.id} ${said}`, name: kind.name, value: said, edit: { do: 'pin', decision: kind.id, value } }
}

/** What is typed as an action of a rule is: one language for both. */
function typedPin(typed: string, words: Wordings): Offer[] {
  const action = readTypedAction(typed, 'triage', words)
  const kind = action && kinds.find(({ id }) => id === action.set)
  return kind ? [pinOf(kind, action.to, words)] : []
}

function choicesOf({ id, type }: Kind, words: Wordings): (Pick<Choice, 'name'> & { readonly value: unknown })[] {
  const way = editing[type]
  if (id === 'hold') return [{ name: 'release', value: null }]
  if (type === 'picks') return pickChoices(words).map(({ id: pick, name }) => ({ name, value: [readPick(pick)] }))
  if (type === 'insurance') return covers.map(({ id: cover, name }) => ({ name, value: readCover(cover) }))
  if (way.by !== 'choice') return []
  return way.choices(words).map(({ id: value, name }) => ({ name, value: type === 'yes/no' ? value === 'yes' : value }))
}

/** How a decision begins whose value is typed or searched. */
const beginningOf = (kind: Kind): Offer => {
  const way = editing[kind.type]
  return { key: kind.id, name: kind.name, value: way.by === 'text' ? way.hint : '…', fill: `${kind.name} ` }
}

const weigh = { key: 'weigh', name: 'weight of the items', value: 'such as 1.2 kg', fill: 'weight ' }
const tag = { key: 'tag', name: 'tag', value: 'a word', fill: 'tag ' }
const untag = { key: 'untag', name: 'without the tag', value: 'a word', fill: 'without ' }

const begin = (id: DecisionId, value: string): Offer => ({ ...beginningOf(kinds.find((one) => one.id === id)!), value })
const beginnings: readonly Offer[] = [
  begin('hold', 'why, until Friday or until 2026-12-24'),
  begin('shipOn', 'Monday, or 2026-12-24'),
  begin('picks', 'its name, or the cheapest'),
  begin('preset', 'its name'),
  weigh,
  begin('location', 'its name'),
  begin('insurance', 'the order value, or an amount'),
  begin('signature', 'yes or no'),
  begin('priority', 'urgent, normal or later'),
  tag,
  untag,
  begin('addressKind', 'home or company'),
  { key: 'release', name: 'let the rules decide again', value: 'what', fill: 'release ' },
]

function afterName(names: readonly string[], text: string): string | undefined {
  const name = names.find((one) => text.toLowerCase().startsWith(`${one} `))
  const rest = name === undefined ? '' : text.slice(name.length).trim()
  return rest === '' ? undefined : rest
}

/** Tags and weights, which are no decision of one value. */
function ownOffers(text: string): Offer[] {
  const grams = typedWeight(afterName(['weight of the items', 'weight', 'weigh', 'weighs'], text) ?? text)
  const add = readTags(afterName(['tag', 'tags', 'with'], text) ?? '') ?? []
  const remove = readTags(afterName(['without the tag', 'without'], text) ?? '') ?? []
  return [
    ...(grams !== null && grams > 0
      ? [{ key: weigh.key, name: weigh.name, value: weightText(grams), edit: { do: 'weigh', grams } as const }]
      : []),
    ...(add.length > 0
      ? [{ key: tag.key, name: tag.name, value: add.join(', '), edit: { do: 'tag', add, remove: [] } as const }]
      : []),
    ...(remove.length > 0
      ? [{ key: untag.key, name: untag.name, value: remove.join(', '), edit: { do: 'tag', add: [], remove } as const }]
      : []),
  ]
}

const releases = (wanted: readonly string[]): Offer[] =>
  kinds
    .filter((kind) => wanted.every((word) => namesOf(kind).toLowerCase().includes(word)))
    .map((kind) => ({
      ...{ key: `release ${kind.id}`, name: kind.name, value: 'the rules decide again' },
      edit: { do: 'release', decision: kind.id },
    }))
