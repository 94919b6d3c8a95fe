import {
  factById,
  type FactValue,
  itemFactById,
  itemSums,
  type Condition,
  isItemSum,
  isItemTest,
  isTest,
  type ItemSum,
  type ListEntry,
  membersOf,
  type Rule,
  type Rulebook,
  type Test,
  expandSaved,
  maxParts,
  writtenOut,
} from '@/core/rulebook/language'
import { listMembers, type Names } from '@/core/rulebook/compile'
import { firstZone, type World } from '@/core/world'
import { allBits, firstBit, hasBit, noBits } from './bits'
import { type Box, boxesOf, type Effort, type Formula, negate, never, partOutside } from './box'
import { type Domain, domainOf, type Ground, testKey } from './domain'

/**
 * One thing that a point gives a value: a fact, the span since a moment, a tag of a set, whether there is such an
 * item, a sum over items.
 */
export interface Source {
  readonly key: string
  readonly kind: 'fact' | 'span' | 'member' | 'has item' | 'sum'
  /** The fact, or the set that a member is of. */
  readonly fact: string
  /** Kind `member`: which one. Kinds `has item` and `sum`: the test on items. */
  readonly member?: string
  readonly where?: Condition
  readonly sum?: ItemSum['sum']
  readonly domain: Domain
}

/** The points that orders (or items) can be, as far as a rulebook tells them apart. */
export interface Space {
  readonly sources: readonly Source[]
  readonly sizes: readonly number[]
  /** The formula of a condition as the space sees it; conditions that were not in the rulebook have none. */
  readonly formula: (condition: Condition) => Formula
  /** The boxes of a rule with its dates; null when its condition is too intertwined. */
  readonly ruleBoxes: (rule: Rule) => Box[] | null
  /** Items that make the item tests of a part true and false as it says; null when there are no such items. */
  readonly itemsFor: (part: Box) => Items
}

/**
 * What itemsFor gives: 'no items' when only an order without any will do, 'unknown' when it could not be worked out
 * within its effort.
 */
export type Items = readonly ItemDraft[] | null | 'no items' | 'unknown'

/** Values of item facts, by fact. */
export type ItemDraft = ReadonlyMap<string, FactValue>

interface Pending {
  readonly source: Omit<Source, 'domain'>
  readonly ground: Ground
  readonly tests: Test[]
}

const yesNo: Ground = { type: 'yes/no', always: true, usual: [] }
const isYes: Test = { fact: '', op: 'is', value: true }

/** The ground of an ordinary fact. `usual` holds values of the witness that nothing is said about. */
const groundOf = (about: Omit<Ground, 'usual'>, usual: readonly FactValue[]): Ground => ({ ...about, usual })

/**
 * Builds the space of a rulebook. `usual` gives ordinary values by fact, so that witnesses look like orders; `now` is
 * the moment that times are told by.
 */
export function spaceOf(
  rulebook: Rulebook,
  world: World,
  now: number,
  usual: (fact: string) => readonly FactValue[],
): Space {
  const names: Names = { groups: new Map(rulebook.groups.map((group) => [group.id, group])), rates: world.rates }
  const saved = new Map((rulebook.conditions ?? []).map((condition) => [condition.id, condition.when]))
  const zone = firstZone(world)
  const items = new Builder(names, now, zone, usual, null)
  const orders = new Builder(names, now, zone, usual, items)
  const expanded = new Map(rulebook.rules.map((rule) => [rule, expandSaved(rule.when, saved)]))
  const triage = rulebook.rules.filter((rule) => rule.on && rule.stage === 'triage')

  // Two passes: the first collects what is tested, so that the second knows the classes.
  for (const rule of rulebook.rules) {
    if (tooLong(rule)) orders.keepOpen(rule.id)
    else orders.collect(expanded.get(rule)!)
    for (const test of dateTests(rule)) orders.collect(test)
  }
  items.settle()
  orders.settle()
  const space: Space = {
    sources: orders.sources,
    sizes: orders.sizes,
    formula: (condition) => orders.formula(expandSaved(condition, saved), tagFormula),
    ruleBoxes: (rule) => (tooLong(rule) ? null : boxesOf(whole(rule, tagFormula))),
    itemsFor: remembered(orders, items),
  }
  return space

  /** Written out, it has more parts than can be reasoned about. */
  function tooLong(rule: Rule): boolean {
    return writtenOut(expanded.get(rule) ?? expandSaved(rule.when, saved)) > maxParts
  }

  /** A tag is there when one of the Triage rules that add it matches: it is told by their conditions. */
  function tagFormula(tag: string): Formula {
    const adding = triage.filter((rule) =>
      rule.then.some(
        (action) =>
          action.set === 'tags' &&
          Array.isArray(action.to) &&
          action.to.some((own) => listMembers([String(own)], names).has(tag)),
      ),
    )
    const blocked = (rule: Rule): Formula[] =>
      triage
        .slice(0, triage.indexOf(rule))
        .filter((earlier) => earlier.finishStage)
        .map((earlier) =>
          negate(
            whole(earlier, () => never),
            orders.sizes,
          ),
        )
    return { or: adding.map((rule) => ({ and: [whole(rule, () => never), ...blocked(rule)] })) }
  }
  /** The condition of a rule with its dates. */
  function whole(rule: Rule, tags: (tag: string) => Formula): Formula {
    const when = expanded.get(rule) ?? expandSaved(rule.when, saved)
    // Of a Triage rule that is too long nothing is known: whether it adds its tag or ends the stage stays open.
    if (tooLong(rule)) return orders.maybe(rule.id)
    return {
      and: [
        orders.formula(when, tags),
        ...dateTests(rule).map((test) => negate(orders.formula(test, tags), orders.sizes)),
      ],
    }
  }
}

/** When a rule does not take part: tests on the moment of routing of which none may hold. */
const dateTests = ({ from, until }: Rule): Test[] => [
  ...(from ? [{ fact: 'now', op: 'before' as const, value: from }] : []),
  ...(until ? [{ fact: 'now', op: 'after' as const, value: until }] : []),
]

class Builder {
  private readonly pending = new Map<string, Pending>()
  private readonly index = new Map<string, number>()
  sources: Source[] = []
  sizes: number[] = []

  constructor(
    private readonly names: Names,
    private readonly now: number,
    private readonly zone: string,
    private readonly usual: (fact: string) => readonly FactValue[],
    private readonly items: Builder | null,
  ) {}

  collect(condition: Condition): void {
    if (isItemTest(condition)) {
      this.items?.collect(condition.where)
      this.note(hasItem(condition.items === 'every' ? { none: [condition.where] } : condition.where), yesNo, isYes)
      if (condition.items === 'every') this.note(hasItem({ all: [] }), yesNo, isYes)
    } else if (isItemSum(condition)) {
      this.items?.collect(condition.where)
      const { type } = itemSums[condition.sum]
      this.note(
        {
          key: `sum ${condition.sum} ${JSON.stringify(condition.where)}`,
          kind: 'sum',
          fact: condition.sum,
          sum: condition.sum,
          where: condition.where,
        },
        { type, usual: [] },
        { fact: '', op: condition.op, value: condition.value },
      )
    } else if (isTest(condition)) this.noteTest(condition)
    else for (const member of membersOf(condition)) this.collect(member)
  }

  private noteTest(test: Test): void {
    const fact = this.aboutOf(test.fact)
    if (!fact) return
    if (fact.type === 'tags')
      for (const member of this.members(test)) this.note(memberOf(test.fact, member), yesNo, isYes)
    else if (isSpan(test))
      this.note(
        { key: `span ${test.fact}`, kind: 'span', fact: test.fact },
        { ...spanGround, always: fact.always },
        ...spanTests(test),
      )
    else if (test.fact === 'residential')
      this.note(plainFact('company'), groundOf(factById.get('company')!, [false]), { ...test, fact: 'company' })
    else this.note(plainFact(test.fact), groundOf(fact, this.usual(test.fact)), test)
  }

  private note(source: Omit<Source, 'domain'>, ground: Ground, ...tests: Test[]): void {
    const pending = this.pending.get(source.key) ?? { source, ground, tests: [] }
    pending.tests.push(...tests)
    this.pending.set(source.key, pending)
  }

  /** Makes a source of which nothing is ever known. */
  keepOpen(id: string): void {
    this.note(openSource(id), yesNo, isYes)
  }

  /** What may hold, and may not, whatever else does. */
  maybe(id: string): Formula {
    const source = this.index.get(openSource(id).key)
    return source === undefined
      ? never
      : { source, most: allBits(this.sizes[source]!), least: noBits(this.sizes[source]!) }
  }

  settle(): void {
    for (const { source, ground, tests } of this.pending.values()) {
      this.index.set(source.key, this.sources.length)
      const domain = domainOf(ground, tests, this.names, this.now, this.zone)
      this.sources.push({ ...source, domain })
      this.sizes.push(domain.values.length)
    }
  }

  /** `tagFormula` says when an order has a tag; in the item space tags are the item's own. */
  formula(condition: Condition, tagFormula: (tag: string) => Formula): Formula {
    const go = (member: Condition): Formula => this.formula(member, tagFormula)
    if (isItemTest(condition)) {
      const has = (where: Condition): Formula => this.limit(hasItem(where).key, isYes)
      if (condition.items === 'any') return has(condition.where)
      if (condition.items === 'no') return negate(has(condition.where), this.sizes)
      return { and: [negate(has({ none: [condition.where] }), this.sizes), has({ all: [] })] }
    }
    if (isItemSum(condition))
      return this.limit(`sum ${condition.sum} ${JSON.stringify(condition.where)}`, {
        fact: '',
        op: condition.op,
        value: condition.value,
      })
    if (isTest(condition)) return this.testFormula(condition, tagFormula)
    if ('all' in condition) return { and: condition.all.map(go) }
    if ('any' in condition) return { or: condition.any.map(go) }
    return { and: membersOf(condition).map((member) => negate(go(member), this.sizes)) }
  }

  private testFormula(test: Test, tagFormula: (tag: string) => Formula): Formula {
    const fact = this.aboutOf(test.fact)
    if (!fact) return never
    if (fact.type === 'tags') {
      const members = this.members(test).map((member) =>
        test.fact === 'tags' && this.items ? tagFormula(member) : this.limit(memberOf(test.fact, member).key, isYes),
      )
      if (test.op === 'has all') return { and: members }
      return test.op === 'has none' ? negate({ or: members }, this.sizes) : { or: members }
    }
    if (isSpan(test)) return { and: spanTests(test).map((one) => this.limit(`span ${test.fact}`, one)) }
    if (test.fact === 'residential')
      return negate(this.limit(plainFact('company').key, { ...test, fact: 'company' }), this.sizes)
    return this.limit(plainFact(test.fact).key, test)
  }

  private limit(key: string, test: Test): Formula {
    const source = this.index.get(key)
    if (source === undefined) return never
    const limits = this.sources[source]!.domain.limits.get(testKey(test))
    return limits ? { source, ...limits } : never
  }

  private aboutOf(id: string): Omit<Ground, 'usual'> | undefined {
    return this.items ? factById.get(id) : itemFactById.get(id)
  }

  private members(test: Test): string[] {
    return [...listMembers((Array.isArray(test.value) ? test.value : []) as readonly ListEntry[], this.names)]
  }

  sourceAt(index: number): Source {
    return this.sources[index]!
  }
}

const openSource = (id: string): Omit<Source, 'domain'> => ({ key: `open ${id}`, kind: 'fact', fact: '' })
const plainFact = (fact: string): Omit<Source, 'domain'> => ({ key: `fact ${fact}`, kind: 'fact', fact })
const memberOf = (fact: string, member: string): Omit<Source, 'domain'> => ({
  key: `member ${fact} ${member}`,
  kind: 'member',
  fact,
  member,
})
const hasItem = (where: Condition): Omit<Source, 'domain'> => ({
  key: `item ${JSON.stringify(where)}`,
  kind: 'has item',
  fact: '',
  where,
})

/** Spans are told by the minutes from a moment to now: negative ones lie ahead. */
const isSpan = (test: Test): boolean => test.op === 'within the last' || test.op === 'within the next'
const spanGround: Ground = { type: 'number', least: -Infinity, usual: [] }

function spanTests({ op, value }: Test): Test[] {
  const span = value as Partial<{ hours: number; days: number }> | undefined
  const minutes = Math.floor((span?.hours ?? (span?.days ?? 0) * 24) * 60)
  return op === 'within the last'
    ? [
        { fact: '', op: '≥', value: 0 },
        { fact: '', op: '≤', value: minutes },
      ]
    : [
        { fact: '', op: '≤', value: 0 },
        { fact: '', op: '≥', value: -minutes },
      ]
}

/** Asks once for each combination of items that must and must not be there. */
function remembered(orders: Builder, items: Builder): (part: Box) => Items {
  const known = new Map<string, Items>()
  return (part) => {
    const wanted: Source[] = []
    const banned: Source[] = []
    for (const [index, { most }] of part) {
      const source = orders.sourceAt(index)
      if (source.kind !== 'has item') continue
      const mayBe = (answer: boolean): boolean => {
        const at = source.domain.values.indexOf(answer)
        return at >= 0 && hasBit(most, at)
      }
      if (!mayBe(false)) wanted.push(source)
      else if (!mayBe(true)) banned.push(source)
    }
    if (banned.length === 0 && wanted.length === 0) return []
    const keys = (list: readonly Source[]): string =>
      list
        .map((source) => source.key)
        .sort()
        .join('&')
    const key = `${keys(wanted)}|${keys(banned)}`
    let found = known.get(key)
    if (found === undefined)
      known.set(
        key,
        (found = itemsFor(
          wanted.map((source) => source.where!),
          banned.map((source) => source.where!),
          items,
        )),
      )
    return found
  }
}

/**
 * Items for a part: one for each kind that must be there, none of a kind that must not. Each kind is looked for by
 * itself, as items do not depend on each other. Empty when no item is asked for.
 */
function itemsFor(wanted: readonly Condition[], banned: readonly Condition[], items: Builder): Items {
  const formulaOf = (where: Condition): Formula => items.formula(where, () => never)
  const taken: Box[] = []
  for (const where of banned) {
    const boxes = boxesOf(formulaOf(where))
    if (boxes === null) return 'unknown'
    taken.push(...boxes)
  }
  const found: ItemDraft[] = []
  const effort: Effort = { left: 2000 }
  for (const where of wanted.length > 0 ? wanted : [{ all: [] }]) {
    const item = itemIn(boxesOf(formulaOf(where)), taken, items, effort)
    if (item === 'unknown') return item
    if (item) found.push(item)
    // Nothing was asked for but what must not be: then no item at all will do.
    else if (wanted.length > 0) return null
  }
  return found.length > 0 ? found : 'no items'
}

function itemIn(
  boxes: readonly Box[] | null,
  taken: readonly Box[],
  items: Builder,
  effort: Effort,
): ItemDraft | null | 'unknown' {
  if (boxes === null) return 'unknown'
  for (const box of boxes) {
    const part = partOutside(box, taken, items.sizes, () => true, effort)
    if (part === 'given up') return 'unknown'
    if (part !== null) return draftOf(part, items)
  }
  return null
}

function draftOf(part: Box, items: Builder): ItemDraft {
  const draft = new Map<string, FactValue>()
  const members = new Map<string, string[]>()
  for (const [index, { most }] of part) {
    const source = items.sourceAt(index)
    const value = source.domain.values[firstBit(most)]
    if (source.kind === 'member') {
      if (value === true) members.set(source.fact, [...(members.get(source.fact) ?? []), source.member!])
    } else draft.set(source.fact, value)
  }
  for (const [fact, list] of members) draft.set(fact, list)
  return draft
}
