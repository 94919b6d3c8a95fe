import { DateTime } from 'luxon'
import { dayOf, localTime } from '@/core/calendar'
import type { Item, Order } from '@/core/order'
import { pack } from '@/core/packing'
import { chooseQuote, quoteAll, type Pick } from '@/core/rating'
import { toHome, type Money } from '@/core/units'
import { openCase, type Case } from './case'
import { decisionById, factById, itemFactById, type DecisionId, type FactType, type FactValue } from './catalogue'
import { defaults, type Decisions, type Insurance, type Pins } from './decisions'
import { isItemSum, isItemTest, isSaved, isTest, stages, type Condition, type ListEntry, type Rule, type Rulebook, type Stage, type Test } from './rulebook'
import type { ReadyWorld } from './world'

/*
 * A plain reading of rulebook.md for the tests: every rule is looked at, every condition walked as it stands, nothing
 * is shared or remembered. What it says, the compiled program must say too.
 */

export function referenceRoute(order: Order, rulebook: Rulebook, ready: ReadyWorld, now: number, pins: Pins = {}): { decisions: Decisions; matched: string[]; service: string | null; parcelWeight: number | null } {
  const c = openCase(order, ready.world.rates, now, ready.world.locations[0]?.timeZone ?? 'UTC')
  const claims: { decision: DecisionId; value: unknown }[] = []
  const matched: string[] = []
  const decided: Record<string, unknown> = { ...defaults }
  const today = Math.floor(now / 86_400_000)
  const of = (id: DecisionId): unknown[] => claims.filter((claim) => claim.decision === id).map((claim) => claim.value)
  const one = (id: DecisionId): unknown => (id in pins ? pins[id] : of(id).length > 0 ? of(id)[0] : defaults[id])
  const set = (id: DecisionId): string[] => (id in pins ? (pins[id] as string[]) : [...new Set(of(id).flat() as string[])])
  let service: string | null = null

  for (const stage of stages) {
    for (const rule of rulebook.rules) {
      if (rule.stage !== stage || !rule.on || !inDates(rule, today) || !holds(rule.when, c, rulebook, ready)) continue
      matched.push(rule.id)
      for (const action of rule.then) claims.push({ decision: decisionById.get(action.set)!.id, value: action.to })
      if (rule.finishStage) break
    }
    settle(stage)
  }
  return { decisions: decided as unknown as Decisions, matched, service, parcelWeight: c.parcel?.weight ?? null }

  function settle(stage: Stage): void {
    const { world } = ready
    switch (stage) {
      case 'triage':
        decided.tags = set('tags')
        decided.hold = one('hold')
        decided.weight = 'weight' in pins ? pins.weight : (of('weight') as number[]).reduce((sum, n) => sum + n, 0)
        c.tags = decided.tags as string[]
        c.held = decided.hold !== null
        c.weight = Math.max(0, c.itemsWeight + (decided.weight as number))
        return
      case 'packing': {
        decided.preset = one('preset')
        const packed = order.items.length > 0 ? pack(order.items, world.presets, decided.preset as string | null, decided.weight as number) : null
        if (packed?.ok) c.parcel = packed.parcel
        return
      }
      case 'origin': {
        decided.location = one('location')
        c.location = world.locations.find((location) => location.id === (decided.location ?? world.locations[0]?.id)) ?? null
        const to = order.shipTo.country
        if (c.location) c.zone = c.location.timeZone
        if (c.location && to) c.trade = to === c.location.country ? 'domestic' : world.customsUnion.includes(to) && world.customsUnion.includes(c.location.country) ? 'customs union' : 'export'
        return
      }
      case 'protection': {
        decided.insurance = one('insurance')
        decided.signature = one('signature')
        const insurance = decided.insurance as Insurance
        c.signature = decided.signature as boolean
        c.insured = (insurance.cover === 'order value' ? c.value : insurance.cover === 'amount' ? toHome(insurance.amount, world.rates) : 0) ?? 0
        return
      }
      case 'service': {
        decided.barred = set('barred')
        const lists = of('allowed') as string[][]
        decided.allowed = 'allowed' in pins ? pins.allowed : lists.length === 0 ? null : lists.reduce((left, list) => left.filter((id) => list.includes(id)))
        decided.picks = one('picks')
        if (!c.parcel || !c.location || !order.shipTo.country) return
        const { quotes } = quoteAll(ready.rateBook, { parcel: c.parcel, from: c.location, to: { country: order.shipTo.country, postcode: order.shipTo.postcode, postOfficeBox: c.postOfficeBox }, dangerousGoods: [...new Set(order.items.map((item) => item.dangerousGoods).filter(Boolean))], signature: c.signature, insured: c.insured, ready: localTime(now, c.location.timeZone) })
        const within = (list: readonly string[], quote: { service: string; carrier: string }): boolean => list.includes(quote.service) || list.includes(quote.carrier)
        const left = quotes.filter((quote) => !within(decided.barred as string[], quote) && (decided.allowed === null || within(decided.allowed as string[], quote)))
        c.quote = chooseQuote(left, decided.picks as Pick[], order.promisedBy)?.quote ?? null
        service = c.quote?.service ?? null
        if (c.quote && order.promisedBy) c.daysLate = dayOf(c.quote.arrivesOn) - dayOf(order.promisedBy)
        return
      }
      case 'papers':
        decided.slip = one('slip')
        decided.reference = one('reference')
        decided.buyByItself = one('buyByItself')
    }
  }
}

const inDates = (rule: Rule, today: number): boolean => (!rule.from || dayOf(rule.from) <= today) && (!rule.until || dayOf(rule.until) >= today)

function holds(condition: Condition, c: Case, rulebook: Rulebook, ready: ReadyWorld): boolean {
  if (isSaved(condition)) {
    const saved = rulebook.conditions?.find((candidate) => candidate.id === condition.saved)
    return saved !== undefined && holds(saved.when, c, rulebook, ready)
  }
  if (isItemSum(condition)) {
    const fits = c.order.items.filter((item) => itemHolds(condition.where, item, rulebook, ready))
    const parts = fits.map((item) => (condition.sum === 'lines' ? 1 : condition.sum === 'quantity' ? item.quantity : condition.sum === 'weight' ? (item.unitWeight === null ? null : item.unitWeight * item.quantity) : toHome(item.unitPrice, ready.world.rates) === null ? null : toHome(item.unitPrice, ready.world.rates)! * item.quantity))
    const total = parts.includes(null) ? undefined : (parts as number[]).reduce((sum, part) => sum + part, 0)
    return passes({ fact: '', op: condition.op, value: condition.value }, condition.sum === 'value' ? 'money' : condition.sum === 'weight' ? 'weight' : 'number', total, rulebook, ready)
  }
  if (isTest(condition)) {
    const fact = factById.get(condition.fact)!
    if (fact.type === 'time') return timePasses(condition, fact.read(c) as number | undefined, c)
    return passes(condition, fact.type, fact.read(c), rulebook, ready)
  }
  if (isItemTest(condition)) {
    const fits = (item: Item): boolean => itemHolds(condition.where, item, rulebook, ready)
    const hits = c.order.items.filter(fits).length
    return condition.items === 'any' ? hits > 0 : condition.items === 'no' ? hits === 0 : c.order.items.length > 0 && hits === c.order.items.length
  }
  if ('all' in condition) return condition.all.every((member) => holds(member, c, rulebook, ready))
  if ('any' in condition) return condition.any.some((member) => holds(member, c, rulebook, ready))
  return condition.none.every((member) => !holds(member, c, rulebook, ready))
}

function itemHolds(condition: Condition, item: Item, rulebook: Rulebook, ready: ReadyWorld): boolean {
  if (isTest(condition)) {
    const fact = itemFactById.get(condition.fact)!
    return passes(condition, fact.type, fact.read(item, ready.world.rates), rulebook, ready)
  }
  if (isItemTest(condition) || isItemSum(condition) || isSaved(condition)) return false
  if ('all' in condition) return condition.all.every((member) => itemHolds(member, item, rulebook, ready))
  if ('any' in condition) return condition.any.some((member) => itemHolds(member, item, rulebook, ready))
  return condition.none.every((member) => !itemHolds(member, item, rulebook, ready))
}

function timePasses(test: Test, at: number | undefined, c: Case): boolean {
  if (test.op === 'is missing' || test.op === 'is known') return (at === undefined) === (test.op === 'is missing')
  if (at === undefined) return false
  const local = DateTime.fromMillis(at, { zone: c.zone })
  const value = test.value as never
  const span = (): number => ('hours' in (value as object) ? (value as { hours: number }).hours : (value as { days: number }).days * 24) * 3_600_000
  switch (test.op) {
    case 'before': return local.toISODate()! < (value as string)
    case 'after': return local.toISODate()! > (value as string)
    case 'within the last': return at <= c.now && c.now - at <= span()
    case 'within the next': return at >= c.now && at - c.now <= span()
    case 'weekday is': return (value as string[]).includes(local.setLocale('en').weekdayLong!)
    default: {
      const [from, until] = value as [string, string]
      const clock = local.toFormat('HH:mm')
      return from <= until ? clock >= from && clock <= until : clock >= from || clock <= until
    }
  }
}

const plain = (text: string): string => text.normalize('NFKC').trim().split(/\s+/).join(' ').toLowerCase()

function passes(test: Test, type: FactType, value: FactValue, rulebook: Rulebook, ready: ReadyWorld): boolean {
  const opposite = { 'is not': 'is', 'is none of': 'is one of', '≠': '=', 'has none': 'has any' } as const
  if (test.op in opposite) return !passes({ ...test, op: opposite[test.op as keyof typeof opposite] }, type, value, rulebook, ready)
  if (test.op === 'is missing') return value === undefined
  if (test.op === 'is known') return value !== undefined
  if (value === undefined) return false
  const members = (Array.isArray(test.value) ? (test.value as ListEntry[]) : []).flatMap((entry) => (typeof entry === 'string' ? [entry] : (rulebook.groups.find((group) => group.id === entry.group)?.members ?? []))).map(plain)
  if (type === 'yes/no') return value === test.value
  if (type === 'tags') {
    const tags = (value as readonly string[]).map(plain)
    return test.op === 'has any' ? members.some((tag) => tags.includes(tag)) : members.every((tag) => tags.includes(tag))
  }
  if (type === 'text' || type === 'country') {
    const text = plain(value as string)
    const wanted = plain(typeof test.value === 'string' ? test.value : '')
    switch (test.op) {
      case 'is': return text === wanted
      case 'is one of': return members.includes(text)
      case 'contains': return text.includes(wanted)
      case 'starts with': return text.startsWith(wanted)
      case 'ends with': return text.endsWith(wanted)
      default: return new RegExp(`^${wanted.replace(/[.+^${}()|[\]\\]/g, '\\$&').replace(/\*/g, '.*').replace(/\?/g, '.')}$`, 's').test(text)
    }
  }
  const number = (given: unknown): number => (typeof given === 'number' ? given : toHome(given as Money, ready.world.rates)!)
  const n = value as number
  switch (test.op) {
    case '=': return n === number(test.value)
    case '<': return n < number(test.value)
    case '≤': return n <= number(test.value)
    case '>': return n > number(test.value)
    case '≥': return n >= number(test.value)
    default: return n >= number((test.value as unknown[])[0]) && n <= number((test.value as unknown[])[1])
  }
}
