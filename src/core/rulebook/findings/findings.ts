import { itemsWeight, sumParcels } from '@/core/packing'
import { grams } from '@/core/units'
import {
  decisionById,
  type Routed,
  type Action,
  type Rule,
  type Rulebook,
  type Stage,
  stageIndex,
  stages,
  conditionPhrase,
  decisionPhrase,
  type Wordings,
} from '@/core/rulebook/language'
import type { Finding } from './checkRulebook'
import { compileRulebook, type Program } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import { readyWorld, type ReadyWorld, type World } from '@/core/world'
import { type Box, type Effort, intersect, partOutside, touch } from './box'
import { gapSteps } from './gaps'
import { type Space, spaceOf } from './space'
import { usualValues, type Witness, witnessOf } from './witness'

/**
 * What the reasoning about a rulebook says of a rule. `never`: no order can match it. `never acts`: all it could decide
 * is taken by rules above. `partly covered`: a rule above decides the same for some of its orders. `clash`: a rule
 * above decides otherwise for some of its orders. `gap`: orders for which it leaves no service.
 */
export type LogicKind = 'never' | 'never acts' | 'partly covered' | 'clash' | 'gap'

export interface LogicFinding {
  readonly kind: LogicKind
  readonly rule: string
  /** The other rules it is about, in the order in which they stand. */
  readonly others: readonly string[]
  readonly sentence: string
  /** A clash in which the rule above is an exception of this one: meant so, most of the time. */
  readonly exception?: true
  /** A made-up order that shows it; the engine was run on it. */
  readonly witness: Witness | null
}

export interface Ground {
  readonly rulebook: Rulebook
  readonly world: World
  readonly words: Wordings
  readonly space: Space
  readonly program: Program
  readonly ready: ReadyWorld
  /** Milliseconds since 1970, UTC. */
  readonly now: number
}

/** One rule with the boxes of its condition; null boxes when it is too intertwined. */
interface Known {
  readonly rule: Rule
  /** Its place among all rules that are on, stage by stage. */ readonly at: number
  readonly boxes: readonly Box[] | null
  readonly ones: readonly One[]
}

/** What a rule wants of a decision that takes one value; equal values have equal texts. */
interface One extends Action {
  readonly text: string
}

/** The rules above one, without those that do nothing: by what they decide alone, and those that end their stage. */
interface Above {
  readonly deciding: ReadonlyMap<string, readonly Known[]>
  readonly ending: readonly Known[]
}

const stepsPerSearch = 3000
const clashesPerRule = 3
/**
 * Where two rules meet: so many of the boxes that both hold are looked at, and so many made-up orders are asked of the
 * engine.
 */
const boxesPerMeeting = 200
const triesPerMeeting = 6

/** How much a finding weighs: what is meant so most of the time is a note. */
export const weightOf = (finding: LogicFinding): 'warning' | 'note' =>
  finding.kind === 'partly covered' || finding.exception ? 'note' : 'warning'

/**
 * As findLogic, for a draft that may still have errors: rules with one are left out, as nothing can be said of them.
 */
export const findLogicOf = (draft: Rulebook, errors: readonly Finding[], world: World, now: number): LogicFinding[] =>
  atOnce(findingSteps(withoutWrong(draft, errors), world, now))

/**
 * Finds what `LogicFinding` names, exactly for conditions over the order's own facts; nothing is said that the engine
 * did not confirm.
 */
export const findLogic = (rulebook: Rulebook, world: World, now: number): LogicFinding[] =>
  atOnce(findingSteps(rulebook, world, now))

/** A draft without the rules that have an error. */
export function withoutWrong(draft: Rulebook, errors: readonly Finding[]): Rulebook {
  const wrong = new Set(errors.filter((finding) => finding.severity === 'error').map((finding) => finding.rule))
  return { ...draft, rules: draft.rules.filter((rule) => !wrong.has(rule.id)) }
}

function atOnce<T>(steps: Generator<void, T>): T {
  for (;;) {
    const step = steps.next()
    if (step.done) return step.value
  }
}

/** findLogic in small steps, between which whoever asks may see to something else, or give up. */
export function* findingSteps(rulebook: Rulebook, world: World, now: number): Generator<void, LogicFinding[]> {
  const ground: Ground = {
    rulebook,
    world,
    words: { world, groups: rulebook.groups, conditions: rulebook.conditions ?? [] },
    space: spaceOf(rulebook, world, now, usualValues(world)),
    program: compileRulebook(rulebook, world.rates),
    ready: readyWorld(world),
    now,
  }
  const known = rulebook.rules
    .filter((rule) => rule.on)
    .sort((a, b) => stageIndex(a.stage) - stageIndex(b.stage))
    .map((rule, at): Known => ({
      rule,
      at,
      boxes: ground.space.ruleBoxes(rule),
      ones: rule.then.flatMap((action) =>
        decisionById.get(action.set)?.combine === 'one' ? { ...action, text: JSON.stringify(action.to) } : [],
      ),
    }))
  const dead = new Set<Rule>()
  const found: LogicFinding[] = []
  const above = { deciding: new Map<string, Known[]>(), ending: [] as Known[] }
  for (const own of known) {
    yield
    const finding = neverMatches(own, ground) ?? neverActs(own, above, ground)
    if (finding) {
      dead.add(own.rule)
      found.push(finding)
      continue
    }
    found.push(...overlaps(own, above, ground))
    for (const { set } of own.ones) {
      const deciding = above.deciding.get(set)
      if (deciding) deciding.push(own)
      else above.deciding.set(set, [own])
    }
    if (own.rule.finishStage) above.ending.push(own)
  }
  return [...found, ...(yield* gapSteps(ground, dead))]
}

/** Whether a part can be an order at all, as far as its items go. */
const possible =
  (space: Space) =>
  (part: Box): boolean =>
    space.itemsFor(part) !== null

/**
 * Makes a witness for a part and asks the engine, as far as the decisions of a stage; weights that later stages
 * correct are brought to what the part wants.
 */
export function confirmed(part: Box, ground: Ground, until: Stage, shows: (routed: Routed) => boolean): Witness | null {
  const { space, world } = ground
  let witness = witnessOf(part, space, world, ground.now)
  const wanted = weightWanted(part, space)
  for (let attempt = 0; witness && attempt < 3; attempt++) {
    const routed = decide(witness, ground, until)
    if (shows(routed)) return witness
    const items: Witness['order']['items'] = witness.order.items
    const heaviest = routed.parcels.length > 0 ? sumParcels(routed.parcels).heaviest : undefined
    const got = wanted?.fact === 'weight' ? Math.max(0, itemsWeight(items) + routed.decisions.weight) : heaviest
    const first = items[0]
    if (!wanted || got === undefined || got === wanted.value || !first?.unitWeight) return null
    const heavier = first.unitWeight + Math.ceil((wanted.value - got) / first.quantity)
    if (heavier < 0) return null
    witness = {
      ...witness,
      order: { ...witness.order, items: [{ ...first, unitWeight: grams(heavier) }, ...items.slice(1)] },
    }
  }
  return null
}

/** Decides a made-up order by the program, up to the stage `until`. */
export const decide = (
  { order, now }: Witness,
  { program, ready }: Pick<Ground, 'program' | 'ready'>,
  until?: Stage,
): Routed => route(order, program, ready, { now, ...(until ? { until } : {}) })

/** The last stage in which a rule decides something. */
const lastStage = (rule: Rule): Stage =>
  stages[
    Math.max(
      stageIndex(rule.stage),
      ...rule.then.map(({ set }) => stageIndex(decisionById.get(set)?.stage ?? rule.stage)),
    )
  ]!

function weightWanted(part: Box, space: Space): { fact: string; value: number } | null {
  for (const [index, { most }] of part) {
    const source = space.sources[index]!
    if (source.kind !== 'fact' || (source.fact !== 'weight' && source.fact !== 'parcel weight')) continue
    const value = source.domain.values.find((_, at) => (most[at >>> 5]! & (1 << (at & 31))) !== 0)
    if (typeof value === 'number') return { fact: source.fact, value }
  }
  return null
}

const matchedIn = (routed: Routed, rule: Rule): boolean =>
  routed.trail.stages.some((stage) => stage.matched.includes(rule.id))

/** No order matches: the parts of its condition contradict each other. */
function neverMatches({ rule, boxes }: Known, ground: Ground): LogicFinding | null {
  const { space, words } = ground
  if (boxes === null || boxes.some(possible(space))) return null
  const parts = 'all' in rule.when ? rule.when.all : [rule.when]
  // The fewest parts that contradict each other already.
  let core = [...parts]
  for (const part of parts) {
    const fewer = core.filter((other) => other !== part)
    const left = space.ruleBoxes({ ...rule, when: { all: fewer } })
    if (left !== null && !left.some(possible(space))) core = fewer
  }
  // An order that meets all of it but one part, to show how near it comes.
  for (const part of core) {
    for (const box of space.ruleBoxes({ ...rule, when: { all: parts.filter((other) => other !== part) } }) ?? []) {
      const witness = confirmed(box, ground, rule.stage, (routed) => !matchedIn(routed, rule))
      if (!witness) continue
      const rest = core
        .filter((other) => other !== part)
        .map((other) => conditionPhrase(other, words))
        .join(' and ')
      if (conditionPhrase(part, words) === 'nothing')
        return {
          kind: 'never',
          rule: rule.id,
          others: [],
          witness,
          sentence: 'It can never match: an “any of” in it is empty.',
        }
      return {
        kind: 'never',
        rule: rule.id,
        others: [],
        witness,
        sentence:
          rest === ''
            ? `It can never match: nothing can be so that ${conditionPhrase(part, words)}.`
            : `It can never match: when ${rest}, it cannot be that ${conditionPhrase(part, words)}.`,
      }
    }
  }
  return {
    kind: 'never',
    rule: rule.id,
    others: [],
    witness: confirmed(new Map(), ground, rule.stage, (routed) => !matchedIn(routed, rule)),
    sentence: 'It can never match: its conditions contradict each other, or its dates.',
  }
}

/** All it could decide is taken by rules above it, or the stage always ends before it. */
function neverActs({ rule, boxes, ones }: Known, above: Above, ground: Ground): LogicFinding | null {
  if (boxes === null || boxes.length === 0 || rule.then.length === 0) return null
  const ending = above.ending.filter((other) => other.rule.stage === rule.stage)
  const ended = covering(boxes, ending, ground)
  if (ended)
    return say(
      'never acts',
      rule,
      ended,
      ground,
      `It is never reached: ${ended.map(({ rule: other }) => `“${other.name}”`).join(' and ')} ${ended.length === 1 ? 'ends' : 'end'} the stage for every order it is about.`,
      boxes,
      (routed) =>
        !matchedIn(routed, rule) &&
        routed.trail.stages.some(({ finishedBy }) => ending.some((other) => other.rule.id === finishedBy)),
    )
  // What joins, adds up or narrows always acts, and so does a rule that ends its stage.
  if (rule.finishStage || ones.length < rule.then.length) return null
  const takers = new Set<Known>()
  for (const action of ones) {
    const covers = covering(boxes, [...ending, ...(above.deciding.get(action.set) ?? [])], ground)
    if (!covers) return null
    for (const taker of covers) takers.add(taker)
  }
  const names = [...takers].map(({ rule: other }) => `“${other.name}”`)
  // An order that shows it gets as far as the rule: no rule above ends the stage for it.
  const effort: Effort = { left: stepsPerSearch }
  const ends = ending.flatMap((other) => other.boxes ?? [])
  const reaching = boxes.flatMap((box) => {
    const part = partOutside(box, ends, ground.space.sizes, possible(ground.space), effort)
    return part === null || part === 'given up' ? [] : [part]
  })
  return say(
    'never acts',
    rule,
    [...takers],
    ground,
    `It never acts: ${names.slice(0, 4).join(', ')}${names.length > 4 ? ` and ${names.length - 4} more` : ''} above ${names.length === 1 ? 'decides' : 'decide'} for all its orders.`,
    [...reaching.slice(0, 8), ...boxes],
    (routed) => matchedIn(routed, rule) && !acts(routed, rule),
    16,
  )
}

const acts = (routed: Routed, rule: Rule): boolean =>
  routed.trail.decisions.some(
    (entry) =>
      (entry.by.kind === 'rule' && entry.by.rule === rule.id) || entry.parts.some((part) => part.rule === rule.id),
  )

function say(
  kind: LogicKind,
  rule: Rule,
  others: readonly Known[],
  ground: Ground,
  sentence: string,
  boxes: readonly Box[],
  shows: (routed: Routed) => boolean,
  tries = 8,
): LogicFinding | null {
  for (const box of boxes.slice(0, tries)) {
    const witness = confirmed(box, ground, lastStage(rule), shows)
    if (witness) return { kind, rule: rule.id, others: others.map((other) => other.rule.id), sentence, witness }
  }
  return null
}

/** Those of the rules that together surely cover all boxes; null when some part is left, or it could not be told. */
function covering(boxes: readonly Box[], rules: readonly Known[], { space }: Ground): Known[] | null {
  const all = rules.filter((other) => other.boxes !== null && other.boxes.length > 0)
  if (all.length === 0) return null
  const effort: Effort = { left: stepsPerSearch }
  const covered = (by: readonly Known[]): boolean => {
    const taken = by.flatMap((other) => other.boxes!)
    return boxes.every((box) => partOutside(box, taken, space.sizes, possible(space), effort) === null)
  }
  if (!covered(all)) return null
  // Only those that are needed are named.
  let needed = all.filter((other) => other.boxes!.some((own) => boxes.some((box) => touch(own, box))))
  for (const other of [...needed].reverse()) {
    const fewer = needed.filter((one) => one !== other)
    if (fewer.length > 0 && covered(fewer)) needed = fewer
  }
  return needed
}

/** Rules above that decide something else, or the same, for part of its orders. */
function overlaps(own: Known, above: Above, ground: Ground): LogicFinding[] {
  const { rule, boxes, ones } = own
  if (boxes === null) return []
  const found: LogicFinding[] = []
  const same: Known[] = []
  for (const action of ones) {
    const setters = above.deciding.get(action.set) ?? []
    let told = 0
    for (const [at, other] of setters.entries()) {
      if (told >= clashesPerRule) break
      const shared = sharedBy(other.boxes ?? [], boxes)
      if (shared.length === 0) continue
      const theirs = other.ones.find((one) => one.set === action.set)!
      if (theirs.text === action.text) {
        if (shared.some(possible(ground.space)) && !same.includes(other)) same.push(other)
        continue
      }
      const clash = oneClash(
        own,
        other,
        action,
        theirs,
        partsWhereBothAct(own, other, shared, setters.slice(0, at), above.ending),
        ground,
      )
      if (clash) {
        found.push(clash)
        told++
      }
    }
  }
  if (same.length > 0)
    found.push({
      kind: 'partly covered',
      rule: rule.id,
      others: same.map((other) => other.rule.id),
      witness: null,
      sentence: `Some of its orders are decided the same way by ${same
        .slice(0, 3)
        .map((other) => `“${other.rule.name}”`)
        .join(', ')}${same.length > 3 ? ` and ${same.length - 3} more` : ''} above.`,
    })
  return found
}

/** The points that are in a box of both. */
function sharedBy(theirs: readonly Box[], mine: readonly Box[]): Box[] {
  const shared: Box[] = []
  for (const a of theirs)
    for (const b of mine) {
      const both = intersect(a, b)
      if (both) shared.push(both)
    }
  return shared
}

/** Where two rules match, and what lies outside of it where one of them does not get to decide. */
interface Meeting {
  readonly boxes: readonly Box[]
  readonly outside: readonly Box[]
}

/**
 * Where a rule and one above it may both act: where they match, but not where a rule further up decides already, or
 * ends the stage before one of them. Where a rule further up is itself cut off, as its stage was ended before it, they
 * may act too.
 */
function partsWhereBothAct(
  own: Known,
  other: Known,
  shared: readonly Box[],
  first: readonly Known[],
  endings: readonly Known[],
): Meeting[] {
  const cutsOff = (ending: Known, one: Known): boolean =>
    ending !== one && ending.rule.stage === one.rule.stage && ending.at < one.at
  const ended = endings.filter((ending) => cutsOff(ending, own) || cutsOff(ending, other))
  const boxesOf = (rules: readonly Known[]): Box[] => rules.flatMap((one) => one.boxes ?? [])
  const meetings: Meeting[] = [{ boxes: shared, outside: boxesOf([...first, ...ended]) }]
  for (const ending of endings) {
    if (ended.includes(ending) || !first.some((one) => cutsOff(ending, one))) continue
    meetings.push({
      boxes: sharedBy(ending.boxes ?? [], shared),
      outside: boxesOf([...first.filter((one) => !cutsOff(ending, one)), ...ended]),
    })
  }
  return meetings
}

function oneClash(
  own: Known,
  other: Known,
  mine: Action,
  theirs: Action,
  meetings: readonly Meeting[],
  ground: Ground,
): LogicFinding | null {
  const { space } = ground
  const shows = (routed: Routed): boolean =>
    routed.trail.decisions.some(
      (entry) =>
        entry.decision === mine.set &&
        entry.by.kind === 'rule' &&
        entry.by.rule === other.rule.id &&
        entry.others.some((loser) => loser.rule === own.rule.id),
    )
  const effort: Effort = { left: 400 }
  for (const { boxes, outside } of meetings) {
    let tried = 0
    for (const box of boxes.slice(0, boxesPerMeeting)) {
      if (tried >= triesPerMeeting || effort.left <= 0) break
      // What no order can be, or where others act, is no try.
      const part = possible(space)(box) ? partOutside(box, outside, space.sizes, possible(space), effort) : null
      if (part === null || part === 'given up') continue
      tried++
      const witness = confirmed(part, ground, decisionById.get(mine.set)!.stage, shows)
      if (witness) return clashOf(own, other, mine, theirs, witness, ground)
    }
  }
  return null
}

function clashOf(
  own: Known,
  other: Known,
  mine: Action,
  theirs: Action,
  witness: Witness,
  { space, words }: Ground,
): LogicFinding {
  const exception = contained(other, own, space)
  const name = decisionById.get(mine.set)!.name
  const sentence = `${exception ? 'Exception above' : 'Clash'}: ${exception ? 'for all its orders' : 'where both match'}, “${other.rule.name}” decides the ${name}: ${decisionPhrase(theirs.set, theirs.to, words)}, not ${decisionPhrase(mine.set, mine.to, words)}.`
  return {
    kind: 'clash',
    rule: own.rule.id,
    others: [other.rule.id],
    sentence,
    witness,
    ...(exception ? { exception: true as const } : {}),
  }
}

/** Whether every order of one rule is surely one of the other's. */
function contained(inner: Known, outer: Known, space: Space): boolean {
  const effort: Effort = { left: 400 }
  return inner.boxes!.every((box) => partOutside(box, outer.boxes!, space.sizes, possible(space), effort) === null)
}
