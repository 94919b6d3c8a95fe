import type { ParcelLimits } from '@/core/packing'
import { offers, type Pick, type Speed } from '@/core/rating'
import type { Grams, Money, Size } from '@/core/units'
import type { NoticeStep } from '@/core/telling'
import { type Stage, stages } from './rulebook'

/** How the wishes of several rules become one value. */
export type Combination = 'one' | 'sum' | 'set' | 'narrow'

/** What kind of value an action gives; the editor and the checks go by it. */
export type DecisionType =
  | 'tags'
  | 'text'
  | 'hold'
  | 'ship day'
  | 'grams'
  | 'speed'
  | 'priority'
  | 'preset'
  | 'size'
  | 'inserts'
  | 'location'
  | 'insurance'
  | 'yes/no'
  | 'duties'
  | 'needs'
  | 'days'
  | 'money'
  | 'picks'
  | 'services'
  | 'slip'
  | 'moment'
  | 'item tags'
  | 'limits'
  | 'slips'
  | 'split'
  | 'address kind'
  | 'partner'
  | 'steps'

export const priorities = ['urgent', 'normal', 'later'] as const
export type Priority = (typeof priorities)[number]

/** What a service can be asked to offer, besides a signature. */
export const needs = offers.filter((offer) => offer !== 'signature')
export type Need = (typeof needs)[number]

/** When goods go in more parcels than they need. */
export const splits = ['when needed', 'when cheaper'] as const
export type Split = (typeof splits)[number]

/** How a carrier is told of the address. */
export const addressKinds = ['as the address says', 'home', 'company'] as const
export type AddressKind = (typeof addressKinds)[number]

/** Ways to find the location that ships, besides naming one. */
export const originWays = ['nearest with stock', 'cheapest'] as const

/** Said instead of a partner: the papers stay here, whatever the location says. */
export const nobody = 'nobody'

/** The order value, or a fixed amount. */
export type Insurance =
  { readonly cover: 'order value' } | { readonly cover: 'amount'; readonly amount: Money } | { readonly cover: 'none' }

/**
 * Until when an order is held, or before when it does not leave; hours and days count from the moment it was placed, a
 * weekday is the next one after that day.
 */
export type HoldUntil =
  { readonly weekday: string } | { readonly day: string } | { readonly hours: number } | { readonly days: number }
/** A hold: why, and until when; a plain text waits for a person. */
export type Hold = string | { readonly reason: string; readonly until: HoldUntil }

/** A thing that goes into the parcel besides the items. */
export interface Insert {
  readonly name: string
  readonly weight: Grams
}

export interface DecisionKind {
  readonly id: DecisionId
  readonly stage: Stage
  readonly combine: Combination
  readonly type: DecisionType
  /** What is decided where no rule and no person says anything; null where the engine goes its own way then. */
  readonly default: unknown
  /** The members of a set are words that people write, the same in any case, and not identifiers. */
  readonly words?: true
  /** What the wording table of a channel may give for it; any rule goes before. */
  readonly meaning?: 'speed' | 'preset' | 'pick'
  /** The verb of its action in a sentence. */
  readonly verb: string
  /** Its name as a noun, in trails and filters. */
  readonly name: string
  /** Other words by which a person would look for it. */
  readonly also?: readonly string[]
  readonly description: string
}

/** Says of what type a value is, where the value alone would be read as narrower. */
const value = <T>(of: T): T => of

/**
 * Everything rules can settle. Each is declared here, once: types, defaults, checks, editor, catalogue and both
 * deciders read this list. Within a stage they are settled in this order.
 */
export const decisionKinds = [
  {
    id: 'tags',
    stage: 'triage',
    combine: 'set',
    type: 'tags',
    default: value<readonly string[]>([]),
    words: true,
    verb: 'add tags',
    name: 'tags',
    also: ['tag', 'label as', 'mark'],
    description: 'Words that later rules and people can look for',
  },
  {
    id: 'hold',
    stage: 'triage',
    combine: 'one',
    type: 'hold',
    default: value<string | null>(null),
    verb: 'hold because',
    name: 'hold',
    also: ['wait', 'stop'],
    description: 'Keeps the order from being bought until a person releases it, or until a moment comes',
  },
  {
    id: 'shipOn',
    stage: 'triage',
    combine: 'one',
    type: 'ship day',
    default: value<HoldUntil | null>(null),
    verb: 'send it not before',
    name: 'ship-on day',
    also: ['ship on', 'send on', 'dispatch on', 'later day'],
    description: 'It can be bought at once; prices and arrival are those of that day, and the carrier is told that day',
  },
  {
    id: 'weight',
    stage: 'triage',
    combine: 'sum',
    type: 'grams',
    default: value<number>(0),
    verb: 'correct the weight by',
    name: 'weight correction',
    description: 'Grams added to the weight; may be negative',
  },
  {
    id: 'speed',
    stage: 'triage',
    combine: 'one',
    type: 'speed',
    default: value<Speed | null>(null),
    meaning: 'speed',
    verb: 'take the wanted speed as',
    name: 'wanted speed',
    description: 'Otherwise what the wording table says',
  },
  {
    id: 'priority',
    stage: 'triage',
    combine: 'one',
    type: 'priority',
    default: value<Priority>('normal'),
    verb: 'treat it as',
    name: 'priority',
    description: 'Urgent orders stand first in batches',
  },
  {
    id: 'combine',
    stage: 'triage',
    combine: 'one',
    type: 'yes/no',
    default: value<boolean>(false),
    verb: 'send it with other open orders of the buyer:',
    name: 'combining',
    description: 'Ready orders of the same buyer and address go as one shipment by themselves; otherwise it is offered',
  },
  {
    id: 'preset',
    stage: 'packing',
    combine: 'one',
    type: 'preset',
    default: value<string | null>(null),
    meaning: 'preset',
    verb: 'pack in',
    name: 'package preset',
    description: 'Otherwise the smallest preset that fits is taken',
  },
  {
    id: 'dimensions',
    stage: 'packing',
    combine: 'one',
    type: 'size',
    default: value<Size | null>(null),
    verb: 'give the parcel the size',
    name: 'own dimensions',
    description: 'Outer size of the parcel without a preset; a preset that a rule above names goes before',
  },
  {
    id: 'inserts',
    stage: 'packing',
    combine: 'set',
    type: 'inserts',
    default: value<readonly Insert[]>([]),
    verb: 'put in',
    name: 'inserts',
    description: 'Things added to the parcel, with their weight; the slip lists them',
  },
  {
    id: 'apart',
    stage: 'packing',
    combine: 'set',
    type: 'item tags',
    default: value<readonly string[]>([]),
    words: true,
    verb: 'keep apart items tagged',
    name: 'kept apart',
    description: 'Items with one of these tags share no parcel with items without it',
  },
  {
    id: 'parcelLimits',
    stage: 'packing',
    combine: 'one',
    type: 'limits',
    default: value<ParcelLimits | null>(null),
    verb: 'let no parcel have more than',
    name: 'parcel limits',
    description: 'Weight, longest side and pieces of a single parcel; what is more goes into another one',
  },
  {
    id: 'split',
    stage: 'packing',
    combine: 'one',
    type: 'split',
    default: value<Split>('when needed'),
    verb: 'take several parcels',
    name: 'splitting',
    description:
      'When needed: as few parcels as can be. When cheaper: also when several small ones cost less than a large one, by the tariffs from the first location',
  },
  {
    id: 'location',
    stage: 'origin',
    combine: 'one',
    type: 'location',
    default: value<string | null>(null),
    verb: 'ship from',
    name: 'location',
    description: 'Otherwise the first location',
  },
  {
    id: 'insurance',
    stage: 'protection',
    combine: 'one',
    type: 'insurance',
    default: value<Insurance>({ cover: 'none' }),
    verb: 'insure for',
    name: 'insurance',
    also: ['insure', 'insurance', 'cover'],
    description: 'The order value, or a fixed amount',
  },
  {
    id: 'signature',
    stage: 'protection',
    combine: 'one',
    type: 'yes/no',
    default: value<boolean>(false),
    verb: 'ask for a signature:',
    name: 'signature',
    description: 'Only services with a signature remain',
  },
  {
    id: 'duties',
    stage: 'protection',
    combine: 'one',
    type: 'duties',
    default: value<'DAP' | 'DDP'>('DAP'),
    verb: 'send duties as',
    name: 'duties',
    description: 'DAP: the buyer pays them. DDP: we do; only services that can remain',
  },
  {
    id: 'addressKind',
    stage: 'protection',
    combine: 'one',
    type: 'address kind',
    default: value<AddressKind>('as the address says'),
    verb: 'treat the address as',
    name: 'residential handling',
    description: 'Carriers ask more for homes; otherwise an address with a company is none',
  },
  {
    id: 'needs',
    stage: 'protection',
    combine: 'set',
    type: 'needs',
    default: value<readonly Need[]>([]),
    verb: 'the service must offer',
    name: 'needs',
    description: 'Only services that offer all of it remain',
  },
  {
    id: 'within',
    stage: 'protection',
    combine: 'one',
    type: 'days',
    default: value<number | null>(null),
    verb: 'take at most this many days on the way:',
    name: 'longest way',
    description: 'Only services that arrive within this many days of leaving remain',
  },
  {
    id: 'picks',
    stage: 'service',
    combine: 'one',
    type: 'picks',
    default: value<readonly Pick[]>([{ by: 'cheapest by promise' }, { by: 'cheapest' }]),
    meaning: 'pick',
    verb: 'choose',
    name: 'service',
    also: ['use', 'first of', 'among', 'carrier', 'send with'],
    description: 'An ordered list; the first that can carry the parcel decides',
  },
  {
    id: 'barred',
    stage: 'service',
    combine: 'set',
    type: 'services',
    default: value<readonly string[]>([]),
    verb: 'never use',
    name: 'barred services',
    also: ['bar', 'not', 'exclude', 'avoid'],
    description: 'Services or whole carriers that must not be chosen',
  },
  {
    id: 'allowed',
    stage: 'service',
    combine: 'narrow',
    type: 'services',
    default: value<readonly string[] | null>(null),
    verb: 'only use',
    name: 'allowed services',
    also: ['only', 'restrict to'],
    description: 'When several rules say this, only what all of them allow remains',
  },
  {
    id: 'ceiling',
    stage: 'service',
    combine: 'one',
    type: 'money',
    default: value<Money | null>(null),
    verb: 'spend at most',
    name: 'cost ceiling',
    also: ['cost at most', 'budget', 'limit the cost'],
    description: 'Dearer services are not taken',
  },
  {
    id: 'slip',
    stage: 'papers',
    combine: 'one',
    type: 'slip',
    default: value<string | null>(null),
    verb: 'print the slip',
    name: 'slip template',
    also: ['slip', 'packing slip'],
    description: 'The packing slip in the parcel',
  },
  {
    id: 'documents',
    stage: 'papers',
    combine: 'set',
    type: 'slips',
    default: value<readonly string[]>([]),
    verb: 'also print',
    name: 'extra documents',
    description: 'Slip templates that are printed besides the packing slip, with the first parcel',
  },
  {
    id: 'reference',
    stage: 'papers',
    combine: 'one',
    type: 'text',
    default: value<string>('{number}'),
    verb: 'put on the label',
    name: 'label reference',
    description: 'Text on the label; {number}, {channel} and {sku} are filled in',
  },
  {
    id: 'buyByItself',
    stage: 'papers',
    combine: 'one',
    type: 'yes/no',
    default: value<boolean>(false),
    verb: 'buy automatically:',
    name: 'automatic buying',
    description: 'The label is bought as soon as the order is ready',
  },
  {
    id: 'returnLabel',
    stage: 'papers',
    combine: 'one',
    type: 'yes/no',
    default: value<boolean>(false),
    verb: 'put a return label in the box:',
    name: 'return label',
    description: 'Printed with each parcel; the carrier charges it when it is used. The service must offer it',
  },
  {
    id: 'returns',
    stage: 'papers',
    combine: 'one',
    type: 'yes/no',
    default: value<boolean | null>(null),
    verb: 'accept what a buyer sends back:',
    name: 'returns accepted',
    also: ['return', 'send back', 'withdraw'],
    description:
      'What is answered to a buyer who wants to send something back; where no rule says it, a person is asked',
  },
  {
    id: 'returnServices',
    stage: 'papers',
    combine: 'one',
    type: 'services',
    default: value<readonly string[]>([]),
    verb: 'let it come back by',
    name: 'return services',
    description:
      'The first of them that offers return labels there takes it back; otherwise the service that it went by, or the next that does',
  },
  {
    id: 'returnPaidByBuyer',
    stage: 'papers',
    combine: 'one',
    type: 'yes/no',
    default: value<boolean>(false),
    verb: 'take the return label off the refund:',
    name: 'return paid by the buyer',
    also: ['who pays the return', 'return cost'],
    description: 'Whether what the carrier charges for the return is taken off what the buyer gets back',
  },
  {
    id: 'handOver',
    stage: 'papers',
    combine: 'one',
    type: 'partner',
    default: value<string | null>(null),
    verb: 'hand the papers over to',
    name: 'hand-over',
    also: ['partner', 'warehouse', 'fulfilment'],
    description:
      'When the label is bought, label, slip, customs papers and the order go to a partner, or to nobody. Otherwise as the location says',
  },
  {
    id: 'notice',
    stage: 'papers',
    combine: 'one',
    type: 'yes/no',
    default: value<boolean>(true),
    verb: 'mail the customer:',
    name: 'notice',
    description: 'Whether the customer is written to, as the notices are set (Tracking, Notices)',
  },
  {
    id: 'textMessage',
    stage: 'papers',
    combine: 'one',
    type: 'yes/no',
    default: value<boolean>(true),
    verb: 'text the customer:',
    name: 'text messages',
    also: ['SMS', 'text message', 'phone'],
    description: 'Whether the customer gets text messages, as the notices are set',
  },
  {
    id: 'toldSteps',
    stage: 'papers',
    combine: 'set',
    type: 'steps',
    default: value<readonly NoticeStep[]>([]),
    verb: 'also tell the customer when it is',
    name: 'steps told besides',
    also: ['notice', 'notify', 'mail when'],
    description: 'Steps of the way that the customer is mailed about besides those that the notices are set to',
  },
  {
    id: 'tellWhen',
    stage: 'papers',
    combine: 'one',
    type: 'moment',
    default: value<'bought' | 'dispatched' | null>(null),
    verb: 'tell the channel when it is',
    name: 'when the channel is told',
    description: 'Otherwise as the channel is set',
  },
] as const satisfies readonly (Omit<DecisionKind, 'id'> & { id: string })[]

type Declared = (typeof decisionKinds)[number]
export type DecisionId = Declared['id']

/** Everything rules settle for an order. */
export type Decisions = { readonly [K in Declared as K['id']]: K['default'] }

/** What is decided where no rule and no person says anything. */
export const defaults = Object.fromEntries(decisionKinds.map((kind) => [kind.id, kind.default])) as unknown as Decisions

/** The decisions of each stage, in the order in which they are settled. */
export const decisionsOf = Object.fromEntries(
  stages.map((stage) => [stage, decisionKinds.filter((kind) => kind.stage === stage)]),
) as unknown as Readonly<Record<Stage, readonly (DecisionKind & { readonly id: DecisionId })[]>>

export const decisionById: ReadonlyMap<string, DecisionKind> = new Map(decisionKinds.map((kind) => [kind.id, kind]))
