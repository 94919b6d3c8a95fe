import { type Day, dayOf } from '@/core/calendar'
import { foldText, type Item } from '@/core/order'
import { type Rates, toHome } from '@/core/units'
import {
  decisionById,
  type DecisionId,
  type Fact,
  factById,
  type FactType,
  type FactValue,
  isTextual,
  itemFactById,
  itemSums,
  type Case,
  type Condition,
  isItemSum,
  isItemTest,
  isTest,
  type ItemSum,
  type ItemTest,
  membersOf,
  type Rule,
  type Rulebook,
  type Stage,
  stages,
  type Test,
  expandSaved,
  maxParts,
  savedName,
  writtenOut,
  decisionValues,
  timeTest,
} from '@/core/rulebook/language'
import { classifier, type Classifier, type Source } from './classifier'
import { breakpoints, compileTest, type Names, type Predicate } from './predicates'
import { product, waysToHold } from './alternatives'

/** A rulebook made ready for routing. Build it once per edition and world; it may be used for any number of orders. */
export interface Program {
  readonly rulebook: Rulebook
  readonly stages: Readonly<Record<Stage, StageProgram>>
}

/**
 * The rules of a stage that are switched on, as bits: one for each way in which the condition of a rule can hold, those
 * of a rule next to each other, in the order of the rules. A rule whose condition never holds has none.
 */
export interface StageProgram {
  readonly rules: readonly ReadyRule[]
  /** The place in `rules` of the rule that each bit stands for. */
  readonly ruleAt: Int32Array
  /** How many words of 32 bits a row has. */
  readonly words: number
  readonly classifiers: readonly Classifier[]
}

export interface ReadyRule {
  readonly rule: Rule
  readonly from: Day
  readonly until: Day
  /** What rows cannot say: parts of the condition that mix several facts in too many ways. Null when there is none. */
  readonly rest: ((c: Case) => boolean) | null
  /** Its actions with values that make sense; checkRulebook has named the others. */
  readonly actions: readonly { readonly decision: DecisionId; readonly value: unknown }[]
}

type CaseTest = (c: Case) => boolean

/**
 * Compiles a rulebook. It never throws: a test on an unknown fact passes nothing, as checkRulebook has said before.
 * Equal tests of different rules are shared, as all tests on one fact become one table (see classify.ts).
 */
export function compileRulebook(rulebook: Rulebook, rates: Rates): Program {
  const names: Names = { groups: new Map(rulebook.groups.map((group) => [group.id, group])), rates }
  const saved = new Map((rulebook.conditions ?? []).map((condition) => [condition.id, condition.when]))
  const compileStage = (stage: Stage): StageProgram => {
    const sources = new Map<string, Source>()
    const bits: number[] = []
    const rules = rulebook.rules
      .filter((rule) => rule.stage === stage && rule.on)
      .map((rule, place) => compileRule({ ...rule, when: expandSaved(rule.when, saved) }, place, bits, sources, names))
    const words = Math.ceil(bits.length / 32)
    return {
      rules,
      ruleAt: Int32Array.from(bits),
      words,
      classifiers: [...sources].map(([key, source]) => classifier(key, source, words)),
    }
  }
  return {
    rulebook,
    stages: Object.fromEntries(stages.map((stage) => [stage, compileStage(stage)])) as Record<Stage, StageProgram>,
  }
}

// Beyond it, asking the order is cheaper than more bits for all orders.
const maxWays = 8

/** Adds the bits of a rule, and what they test, to those of its stage. */
function compileRule(rule: Rule, place: number, bits: number[], sources: Map<string, Source>, names: Names): ReadyRule {
  const rest: CaseTest[] = []
  let ways: Condition[][] = [[]]
  const single: Condition[] = []
  const parts = writtenOut(rule.when) > maxParts ? null : conjuncts(rule.when)
  if (!parts) rest.push(caseTest(rule.when, names, rule.stage))
  for (const part of parts ?? []) {
    if (sourcesOf(part).size === 1) single.push(part)
    else {
      const more = product([ways, waysToHold(part, sourcesOf, maxWays)], maxWays)
      if (more) ways = more
      else rest.push(caseTest(part, names, rule.stage))
    }
  }
  const own = ways.map((way) => ({ bit: bits.push(place) - 1, way }))
  for (const part of single)
    addPart(
      part,
      own.map(({ bit }) => bit),
      sources,
      names,
    )
  for (const { bit, way } of own) for (const part of way) addPart(part, [bit], sources, names)
  return {
    rule,
    from: rule.from ? dayOf(rule.from) : -Infinity,
    until: rule.until ? dayOf(rule.until) : Infinity,
    actions: rule.then.flatMap((action) => {
      const kind = decisionById.get(action.set)
      return kind && decisionValues[kind.type].safeParse(action.to).success
        ? [{ decision: kind.id, value: action.to }]
        : []
    }),
    rest: allOf(rest),
  }
}

/** One test for several; null for none. */
function allOf(tests: readonly ((c: Case) => boolean)[]): ((c: Case) => boolean) | null {
  if (tests.length <= 1) return tests[0] ?? null
  return (c) => tests.every((test) => test(c))
}

/** A part of a condition that looks at one source, for all bits that need it. */
function addPart(part: Condition, bits: readonly number[], sources: Map<string, Source>, names: Names): void {
  const [key] = sourcesOf(part) as unknown as [string]
  const source = sources.get(key) ?? addSource(sources, key, part, names)
  const passes = sourceTest(part, names)
  for (const bit of bits) {
    source.bits.push(bit)
    source.tests.push(passes)
    forEachTest(part, (test) => {
      for (const at of breakpoints(test, names.rates)) source.breaks.push({ at, test: source.tests.length - 1 })
    })
  }
}

/** The program as if some of its rules were switched off. */
export function withoutRules(program: Program, off: ReadonlySet<Rule['id']>): Program {
  const without = (stage: StageProgram): StageProgram => ({
    ...stage,
    rules: stage.rules.map((ready) => (off.has(ready.rule.id) ? { ...ready, from: Infinity } : ready)),
  })
  return {
    ...program,
    stages: Object.fromEntries(stages.map((stage) => [stage, without(program.stages[stage])])) as Program['stages'],
  }
}

/** The parts that must all hold: nested `all` unfolded, `none` as one negated part for each of its members. */
function conjuncts(condition: Condition): Condition[] {
  if ('all' in condition) return condition.all.flatMap(conjuncts)
  if ('none' in condition) return condition.none.map((member) => ({ none: [member] }))
  return [condition]
}

/** What a test looks at; tests with the same key share one table. */
function sourceKey(leaf: Leaf): string {
  if (isItemTest(leaf)) return `items ${JSON.stringify(leaf)}`
  if (isItemSum(leaf)) return `sum ${leaf.sum} ${JSON.stringify(leaf.where)}`
  return factById.get(leaf.fact)?.type === 'time' ? `time ${JSON.stringify(leaf)}` : `fact ${leaf.fact}`
}

type Leaf = Test | ItemTest | ItemSum
const isLeaf = (condition: Condition): condition is Leaf =>
  isTest(condition) || isItemTest(condition) || isItemSum(condition)

/** Which facts and item tests a condition looks at. */
function sourcesOf(condition: Condition, into = new Set<string>()): Set<string> {
  if (isLeaf(condition)) into.add(sourceKey(condition))
  else for (const member of membersOf(condition)) sourcesOf(member, into)
  return into
}

function addSource(sources: Map<string, Source>, key: string, part: Condition, names: Names): Source {
  const source: Source = { ...readerOf(firstLeaf(part)!, names), bits: [], tests: [], breaks: [] }
  sources.set(key, source)
  return source
}

function readerOf(leaf: Leaf, names: Names): Pick<Source, 'type' | 'read' | 'reach'> {
  if (isItemTest(leaf)) return { type: 'yes/no', reach: 'items', read: itemsTest(leaf, names) }
  if (isItemSum(leaf)) return { type: itemSums[leaf.sum].type, reach: 'items', read: itemsSum(leaf, names) }
  const fact = factById.get(leaf.fact)
  if (!fact) return { type: 'yes/no', reach: 'order', read: () => undefined }
  const reach = reachOf(fact)
  return fact.type === 'time'
    ? {
        type: 'yes/no',
        reach: fact.settledBy ? 'stages' : 'clock',
        read: timeTest(leaf, fact.read as (c: Case) => number | undefined),
      }
    : { type: fact.type, reach, read: fact.read }
}

/** What a fact follows from. */
function reachOf({ settledBy, ofItems, ofClock }: Fact): Source['reach'] {
  if (settledBy) return 'stages'
  if (ofItems) return 'items'
  return ofClock ? 'clock' : 'order'
}

/** Some test in a condition; undefined when there is none. */
function firstLeaf(condition: Condition): Leaf | undefined {
  if (isLeaf(condition)) return condition
  for (const member of membersOf(condition)) {
    const leaf = firstLeaf(member)
    if (leaf) return leaf
  }
  return undefined
}

/** A condition over a single source, as a test of that source's value. */
function sourceTest(condition: Condition, names: Names): Predicate {
  if (isItemTest(condition)) return (value) => value === true
  if (isItemSum(condition))
    return compileTest({ fact: '', op: condition.op, value: condition.value }, itemSums[condition.sum].type, names)
  if (isTest(condition)) {
    const fact = factById.get(condition.fact)
    if (!fact) return () => false
    return fact.type === 'time' ? (value) => value === true : compileTest(condition, fact.type, names)
  }
  return combine(
    condition,
    membersOf(condition).map((member) => sourceTest(member, names)),
  )
}

/**
 * A condition over several sources, as a test of the case. A saved condition is asked once in a stage, wherever it is
 * named.
 */
function caseTest(condition: Condition, names: Names, stage: Stage, made = new Map<Condition, CaseTest>()): CaseTest {
  let test = made.get(condition)
  if (!test) {
    const saved = savedName(condition)
    const plain = plainCaseTest(condition, names, stage, made)
    made.set(condition, (test = saved === undefined ? plain : onceFor(`saved ${stage} ${saved}`, names, plain)))
  }
  return test
}

function plainCaseTest(condition: Condition, names: Names, stage: Stage, made: Map<Condition, CaseTest>): CaseTest {
  if (isItemTest(condition)) return itemsTest(condition, names)
  if (isItemSum(condition)) {
    const read = itemsSum(condition, names)
    const fits = sourceTest(condition, names)
    return (c) => fits(read(c))
  }
  if (isTest(condition)) {
    const fact = factById.get(condition.fact)
    if (!fact) return () => false
    if (fact.type === 'time') return timeTest(condition, fact.read as (c: Case) => number | undefined)
    const passes = compileTest(condition, fact.type, names)
    const { read, type } = fact
    return (c) => passes(folded(read(c), type))
  }
  return combine(
    condition,
    membersOf(condition).map((member) => caseTest(member, names, stage, made)),
  )
}

/** Item tests and sums of one rulebook by what they ask, each with a place in `Case.told`. */
const numbers = new WeakMap<Names, Map<string, number>>()

/** Asks once for each case. */
function onceFor<T extends FactValue>(key: string, names: Names, read: (c: Case) => T): (c: Case) => T {
  const known = numbers.get(names) ?? new Map<string, number>()
  numbers.set(names, known)
  const place = known.get(key) ?? known.size
  known.set(key, place)
  return (c) => {
    if (c.toldTo !== known) {
      c.toldTo = known
      c.told = []
    }
    const before = c.told[place]
    // Null stands for "asked, and missing"; undefined for "not asked yet".
    if (before !== undefined) return (before === null ? undefined : before) as T
    const value = read(c)
    c.told[place] = value === undefined ? null : value
    return value
  }
}

function itemsTest(test: ItemTest, names: Names): CaseTest {
  return onceFor(sourceKey(test), names, plainItemsTest(test, names))
}

function plainItemsTest(test: ItemTest, names: Names): CaseTest {
  const passes = itemPredicate(test.where, names)
  switch (test.items) {
    case 'any':
      return (c) => c.order.items.some(passes)
    // Of an order without items nothing can be said: "every item" does not hold.
    case 'every':
      return (c) => c.order.items.length > 0 && c.order.items.every(passes)
    case 'no':
      return (c) => !c.order.items.some(passes)
  }
}

function itemsSum(test: ItemSum, names: Names): (c: Case) => number | undefined {
  return onceFor(sourceKey(test), names, plainItemsSum(test, names))
}

function plainItemsSum({ sum, where }: ItemSum, names: Names): (c: Case) => number | undefined {
  const total = itemSumOf(sum, itemPredicate(where, names), names)
  return (c) => total(c.order.items)
}

/**
 * What the items that pass come to. Where one of them has no weight or no rate, the sum is missing: it is not guessed.
 */
export function itemSumOf(
  sum: ItemSum['sum'],
  passes: (item: Item) => boolean,
  names: Names,
): (items: readonly Item[]) => number | undefined {
  const of = (item: Item): number | undefined => {
    switch (sum) {
      case 'lines':
        return 1
      case 'quantity':
        return item.quantity
      case 'weight':
        return item.unitWeight === null ? undefined : item.unitWeight * item.quantity
      case 'value': {
        const price = toHome(item.unitPrice, names.rates)
        return price === null ? undefined : price * item.quantity
      }
    }
  }
  return (items) => {
    let total = 0
    for (const item of items) {
      if (!passes(item)) continue
      const part = of(item)
      if (part === undefined) return undefined
      total += part
    }
    return total
  }
}

/** A condition over items as a test of one of them. */
export function itemPredicate(condition: Condition, names: Names): (item: Item) => boolean {
  if (isItemTest(condition) || isItemSum(condition)) return () => false
  if (isTest(condition)) {
    const fact = itemFactById.get(condition.fact)
    if (!fact) return () => false
    const passes = compileTest(condition, fact.type, names)
    return (item) => passes(folded(fact.read(item, names.rates), fact.type))
  }
  return combine(
    condition,
    membersOf(condition).map((member) => itemPredicate(member, names)),
  )
}

/** Items repeat from order to order, so their folded texts are worth remembering. */
const foldedTexts = new Map<string, string>()

function folded(value: FactValue, type: FactType): FactValue {
  if (value === undefined || (!isTextual(type) && type !== 'tags')) return value
  return typeof value === 'string' ? foldedOnce(value) : (value as readonly string[]).map(foldedOnce)
}

function foldedOnce(text: string): string {
  let folded = foldedTexts.get(text)
  if (folded === undefined) {
    folded = foldText(text)
    if (foldedTexts.size > 50_000) foldedTexts.clear()
    foldedTexts.set(text, folded)
  }
  return folded
}

function combine<T>(condition: Condition, tests: readonly ((value: T) => boolean)[]): (value: T) => boolean {
  if ('any' in condition) return (value) => tests.some((test) => test(value))
  if ('none' in condition) return (value) => !tests.some((test) => test(value))
  return (value) => tests.every((test) => test(value))
}

function forEachTest(condition: Condition, visit: (test: Test) => void): void {
  if (isItemSum(condition)) visit({ fact: '', op: condition.op, value: condition.value })
  else if (isTest(condition)) visit(condition)
  else for (const member of membersOf(condition)) forEachTest(member, visit)
}
