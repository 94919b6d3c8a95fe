import { DateTime } from 'luxon'
import { dayOf, localTime } from '@/core/calendar'
import { tradeBetween } from '@/core/address'
import { continentOf, type Item, type Order } from '@/core/order'
import { pack, packSmaller, type Parcel, type ParcelLimits } from '@/core/packing'
import { chooseQuote, type Location, type Offer, type Pick, quoteAll, type Speed } from '@/core/rating'
import { grams, minorUnits, type Money, toHome, type Size } from '@/core/units'
import {
  type Case,
  openCase,
  setParcels,
  decisionById,
  type DecisionId,
  decisionKinds,
  factById,
  type FactType,
  type FactValue,
  itemFactById,
  type Priority,
  type Decisions,
  defaults,
  type Hold,
  type HoldUntil,
  type Insert,
  type Insurance,
  type Pins,
  type Condition,
  isItemSum,
  isItemTest,
  isSaved,
  isTest,
  type ListEntry,
  promiseChance,
  type Rule,
  type Rulebook,
  type Stage,
  stages,
  type Test,
  weekdays,
} from '@/core/rulebook/language'
import type { ReadyWorld } from '@/core/world'

/*
 * A plain reading of rulebook.md for the tests: every rule is looked at, every condition walked as it is, nothing
 * is shared or remembered. What it says, the compiled program must say too.
 */

export function referenceRoute(
  order: Order,
  rulebook: Rulebook,
  ready: ReadyWorld,
  now: number,
  pins: Pins = {},
): { decisions: Decisions; matched: string[]; service: string | null; parcelWeight: number | null } {
  const c = openCase(order, ready, now)
  const claims: { decision: DecisionId; value: unknown; rule: string }[] = []
  const matched: string[] = []
  const decided: Record<string, unknown> = { ...defaults }
  const of = (id: DecisionId): unknown[] => claims.filter((claim) => claim.decision === id).map((claim) => claim.value)
  const one = (id: DecisionId, otherwise?: unknown): unknown => {
    if (id in pins) return pins[id]
    if (of(id).length > 0) return of(id)[0]
    return otherwise !== undefined ? otherwise : defaults[id]
  }
  const set = (id: DecisionId, words = false): string[] =>
    id in pins
      ? (pins[id] as string[])
      : (of(id).flat() as string[]).filter(
          (member, i, all) =>
            all.findIndex((other) => (words ? plain(other) === plain(member) : other === member)) === i,
        )
  let service: string | null = null
  let leaves = now

  for (const stage of stages) {
    for (const rule of rulebook.rules) {
      if (
        rule.stage !== stage ||
        !rule.on ||
        !inDates(rule, DateTime.fromMillis(now, { zone: c.zone }).toISODate()!) ||
        !holds(rule.when, c, rulebook, ready)
      )
        continue
      matched.push(rule.id)
      for (const action of rule.then)
        claims.push({ decision: decisionById.get(action.set)!.id, value: action.to, rule: rule.id })
      if (rule.finishStage) break
    }
    settle(stage)
  }
  return { decisions: decided as unknown as Decisions, matched, service, parcelWeight: c.packed?.heaviest ?? null }

  function settle(stage: Stage): void {
    const { world } = ready
    switch (stage) {
      case 'triage':
        decided.tags = set('tags', true)
        decided.hold = holdOf(one('hold') as Hold | null)
        decided.shipOn = one('shipOn')
        if (decided.shipOn) leaves = Math.max(leaves, momentOf(decided.shipOn as HoldUntil))
        decided.weight = 'weight' in pins ? pins.weight : (of('weight') as number[]).reduce((sum, n) => sum + n, 0)
        c.tags = decided.tags as string[]
        c.held = decided.hold !== null
        c.weight =
          order.items.some(({ unitWeight }) => unitWeight === null) &&
          !('weight' in pins && (pins.weight as number) > 0)
            ? undefined
            : grams(
                Math.max(
                  0,
                  order.items.reduce((sum, item) => sum + (item.unitWeight ?? 0) * item.quantity, 0) +
                    (decided.weight as number),
                ),
              )
        decided.speed = one('speed', meant('speed'))
        decided.priority = one('priority')
        decided.combine = one('combine')
        c.speed = decided.speed as Speed | null
        c.priority = decided.priority as Priority
        return
      case 'packing': {
        decided.dimensions = one('dimensions')
        // The size given by a person, or by a rule above the one that names the preset, goes before it; both by one
        // rule: the preset.
        const wish = (id: DecisionId): number => claims.findIndex(({ decision }) => decision === id)
        const sizeFirst =
          'preset' in pins
            ? false
            : 'dimensions' in pins
              ? true
              : wish('dimensions') >= 0 &&
                (wish('preset') < 0 ||
                  (wish('dimensions') < wish('preset') &&
                    claims[wish('dimensions')]!.rule !== claims[wish('preset')]!.rule))
        decided.preset = sizeFirst ? null : one('preset', meant('preset'))
        const inserts: Insert[] = []
        for (const insert of 'inserts' in pins ? (pins.inserts as Insert[]) : (of('inserts').flat() as Insert[]))
          if (!inserts.some(({ name, weight }) => plain(name) === plain(insert.name) && weight === insert.weight))
            inserts.push(insert)
        decided.inserts = inserts
        decided.apart = set('apart', true)
        decided.parcelLimits = one('parcelLimits')
        decided.split = one('split')
        const added = (decided.weight as number) + inserts.reduce((sum, { weight }) => sum + weight, 0)
        if (order.items.length === 0) return
        const wishes = {
          preset: decided.preset as string | null,
          dimensions: decided.dimensions as Size | null,
          added: grams(added),
          apart: decided.apart as string[],
          limits: decided.parcelLimits as ParcelLimits | null,
        }
        const presets = world.presets.filter(({ retired }) => !retired)
        const packed = pack(order.items, presets, wishes)
        if (!packed.ok) return
        const ways = [
          packed.parcels,
          ...(decided.split === 'when cheaper' ? packSmaller(order.items, presets, wishes, packed.parcels) : []),
        ]
        const price = (parcels: readonly Parcel[]): number =>
          Math.min(
            Infinity,
            ...quotesFrom(
              world.locations.find(({ retired }) => !retired)!,
              parcels,
            ).quotes.map((quote) => quote.cost),
          ) +
          parcels.reduce((sum, parcel) => sum + (world.presets.find(({ id }) => id === parcel.preset)?.cost ?? 0), 0)
        setParcels(
          c,
          ways.length === 1
            ? ways[0]!
            : ways.map((parcels) => ({ parcels, price: price(parcels) })).reduce((a, b) => (b.price < a.price ? b : a))
                .parcels,
        )
        return
      }
      case 'origin': {
        decided.location = one('location')
        c.location = shipFrom((decided.location ?? world.locations.find(({ retired }) => !retired)?.id) as string)
        const to = order.shipTo.country
        if (c.location) c.zone = c.location.timeZone
        if (c.location && to)
          c.trade = tradeBetween(
            { country: c.location.country, postcode: c.location.address.postcode },
            order.shipTo,
            new Set(world.customsUnion),
          )
        if (c.location && to)
          c.distance =
            to === c.location.country
              ? c.location.address.postcode.slice(0, 2) === order.shipTo.postcode.slice(0, 2)
                ? 'local'
                : 'domestic'
              : continentOf(to) === continentOf(c.location.country)
                ? 'same continent'
                : 'overseas'
        return
      }
      case 'protection': {
        decided.insurance = one('insurance')
        decided.signature = one('signature')
        const insurance = decided.insurance as Insurance
        decided.duties = one('duties')
        decided.addressKind = one('addressKind')
        if (decided.addressKind !== 'as the address says') c.residential = decided.addressKind === 'home'
        decided.needs = set('needs')
        decided.within = one('within')
        c.signature = decided.signature as boolean
        c.needs = [
          ...new Set([
            ...(decided.needs as Offer[]),
            ...(decided.duties === 'DDP' && c.trade === 'export' ? (['duties paid'] as const) : []),
          ]),
        ]
        c.insured =
          (insurance.cover === 'order value'
            ? c.value
            : insurance.cover === 'amount'
              ? toHome(insurance.amount, world.rates)
              : minorUnits(0)) ?? minorUnits(0)
        return
      }
      case 'service': {
        decided.barred = set('barred')
        const lists = of('allowed') as string[][]
        decided.allowed =
          'allowed' in pins
            ? pins.allowed
            : lists.length === 0
              ? null
              : lists.length === 1
                ? lists[0]!
                : [
                    ...new Set(
                      lists[0]!
                        .flatMap((entry) => {
                          if (lists.every((list) => list.includes(entry))) return [entry]
                          return world.services.some(({ carrier }) => carrier === entry)
                            ? world.services.filter(({ carrier }) => carrier === entry).map(({ id }) => id)
                            : [entry]
                        })
                        .filter((entry) =>
                          lists.every(
                            (list) =>
                              list.includes(entry) ||
                              list.includes(world.services.find(({ id }) => id === entry)?.carrier ?? entry),
                          ),
                        ),
                    ),
                  ]
        decided.picks = one('picks', meant('pick'))
        decided.ceiling = one('ceiling')
        if (c.parcels.length === 0 || !c.location || !order.shipTo.country) return
        const { quotes } = quotesFrom(c.location)
        const within = (list: readonly string[], quote: { service: string; carrier: string }): boolean =>
          list.includes(quote.service) || list.includes(quote.carrier)
        const left = quotes.filter(
          (quote) =>
            !within(decided.barred as string[], quote) &&
            (decided.allowed === null || within(decided.allowed as string[], quote)) &&
            (decided.ceiling === null || quote.cost <= toHome(decided.ceiling as Money, world.rates)!),
        )
        const choice = chooseQuote(left, decided.picks as Pick[], order.promisedBy, (quote) => promiseChance(c, quote))
        c.quote = choice?.quote ?? null
        c.runnerUp = choice?.runnerUp ?? null
        service = c.quote?.service ?? null
        if (c.quote && order.promisedBy) c.daysLate = dayOf(c.quote.arrivesOn) - dayOf(order.promisedBy)
        return
      }
      case 'papers':
        // Nothing follows from them: what each comes to is one rule's wish, or all of theirs.
        for (const { id, stage, combine } of decisionKinds)
          if (stage === 'papers') decided[id] = combine === 'one' ? one(id) : set(id)
    }
  }

  function holdOf(hold: Hold | null): string | null {
    if (hold === null || typeof hold === 'string') return hold
    const ends = momentOf(hold.until)
    if (ends <= now) return null
    leaves = Math.max(leaves, ends)
    return hold.reason
  }

  function momentOf(until: HoldUntil): number {
    let ends = DateTime.fromISO(order.placedAt, { zone: c.zone })
    if ('hours' in until || 'days' in until)
      ends = ends.plus({ hours: 'hours' in until ? until.hours : until.days * 24 })
    else if ('day' in until) ends = DateTime.fromISO(until.day, { zone: c.zone })
    else
      do ends = ends.plus({ days: 1 }).startOf('day')
      while (ends.weekday !== weekdays.findIndex((name) => name === until.weekday) + 1)
    return ends.toMillis()
  }

  function meant(what: 'speed' | 'preset' | 'pick'): unknown {
    const row = ready.world.wordings
      ?.find((table) => table.channel === order.channel)
      ?.rows.find((candidate) => {
        const inBand = (n: number | undefined, band?: readonly [number, number]): boolean =>
          band === undefined || (n !== undefined && n >= band[0] && n <= band[1])
        return (
          passes({ fact: '', op: 'matches', value: candidate.wording }, 'text', order.wording, rulebook, ready) &&
          (candidate.countries?.includes(order.shipTo.country) ?? true) &&
          inBand(c.weight, candidate.weight) &&
          inBand(c.value, candidate.value)
        )
      })
    if (order.wording === '') return undefined
    return what === 'pick' ? row?.gives.pick && [row.gives.pick] : row?.gives[what]
  }

  function quotesFrom(from: Location, parcels: readonly Parcel[] = c.parcels): ReturnType<typeof quoteAll> {
    const demand = ready.world.demands?.find(({ channel }) => channel === order.channel)
    const collects = order.paymentMethod === 'cash on delivery'
    const needs = new Set<Offer>([
      ...c.needs,
      ...(collects ? (['cash on delivery'] as const) : []),
      ...(order.items.some((item) => item.handling?.includes('live')) ? (['live goods'] as const) : []),
      ...(demand?.offers ?? []),
    ])
    return quoteAll(ready.rateBook, {
      parcels,
      from,
      to: {
        country: order.shipTo.country,
        postcode: order.shipTo.postcode,
        postOfficeBox: c.postOfficeBox,
        residential: c.residential,
      },
      dangerousGoods: [...new Set(order.items.map((item) => item.dangerousGoods).filter(Boolean))],
      notStackable: order.items.some((item) => item.handling?.includes('not stackable')),
      signature: c.signature,
      insured: c.insured,
      needs: [...needs],
      within: decided.within as number | null,
      demandedBy: demand?.byPromise ? order.promisedBy : '',
      protectedBy: demand?.protected ? order.channel : '',
      carriers: demand?.carriers ?? null,
      toCollect: minorUnits(collects ? (c.value ?? 0) : 0),
      ready: localTime(leaves, from.timeZone),
    })
  }

  function shipFrom(wanted: string): Location | null {
    const { locations, customsUnion } = ready.world
    const working = locations.filter(({ retired, off }) => retired !== true && off === undefined)
    if (wanted !== 'cheapest' && wanted !== 'nearest with stock') {
      const named = locations.find((location) => location.id === wanted) ?? null
      if (named?.off === undefined || working.length === 0) return named
    }
    const open = working.length > 0 ? working : locations
    const all = open.filter(({ id }) => c.basket.stockedAt.includes(id))
    const to = order.shipTo.country
    const rank = (location: Location): number => {
      if (wanted === 'cheapest')
        return c.parcels.length > 0 && to
          ? Math.min(Infinity, ...quotesFrom(location).quotes.map((quote) => quote.cost))
          : Infinity
      const near = (postcode: string): string => postcode.replace(/[ -]/g, '').toUpperCase().slice(0, 2)
      if (location.country === to) return near(location.address.postcode) === near(order.shipTo.postcode) ? -1 : 0
      if (customsUnion.includes(to) && customsUnion.includes(location.country)) return 1
      return continentOf(to) === continentOf(location.country) ? 2 : 3
    }
    return (
      (all.length > 0 ? all : [...open])
        .map((location) => ({ location, rank: rank(location) }))
        .sort((a, b) => (a.rank === b.rank ? 0 : a.rank - b.rank))[0]?.location ?? null
    )
  }
}

const inDates = (rule: Rule, today: string): boolean =>
  (!rule.from || rule.from <= today) && (!rule.until || rule.until >= today)

function holds(condition: Condition, c: Case, rulebook: Rulebook, ready: ReadyWorld): boolean {
  if (isSaved(condition)) {
    const saved = rulebook.conditions?.find((candidate) => candidate.id === condition.saved)
    return saved !== undefined && holds(saved.when, c, rulebook, ready)
  }
  if (isItemSum(condition)) {
    const fits = c.order.items.filter((item) => itemHolds(condition.where, item, rulebook, ready))
    const parts = fits.map((item) => {
      if (condition.sum === 'lines') return 1
      if (condition.sum === 'quantity') return item.quantity
      if (condition.sum === 'weight') return item.unitWeight === null ? null : item.unitWeight * item.quantity
      return toHome(item.unitPrice, ready.world.rates) === null
        ? null
        : toHome(item.unitPrice, ready.world.rates)! * item.quantity
    })
    const total = parts.includes(null) ? undefined : (parts as number[]).reduce((sum, part) => sum + part, 0)
    return passes(
      { fact: '', op: condition.op, value: condition.value },
      condition.sum === 'value' ? 'money' : condition.sum === 'weight' ? 'weight' : 'number',
      total,
      rulebook,
      ready,
    )
  }
  if (isTest(condition)) {
    const fact = factById.get(condition.fact)!
    if (fact.type === 'time') return timePasses(condition, fact.read(c) as number | undefined, c)
    return passes(condition, fact.type, fact.read(c), rulebook, ready)
  }
  if (isItemTest(condition)) {
    const fits = (item: Item): boolean => itemHolds(condition.where, item, rulebook, ready)
    const hits = c.order.items.filter(fits).length
    if (condition.items === 'any') return hits > 0
    return condition.items === 'no' ? hits === 0 : c.order.items.length > 0 && hits === c.order.items.length
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
  const span = (): number =>
    ('hours' in (value as object) ? (value as { hours: number }).hours : (value as { days: number }).days * 24) *
    3_600_000
  switch (test.op) {
    case 'before':
      return local.toISODate()! < (value as string)
    case 'after':
      return local.toISODate()! > (value as string)
    case 'within the last':
      return at <= c.now && c.now - at <= span()
    case 'within the next':
      return at >= c.now && at - c.now <= span()
    case 'weekday is':
      return (value as string[]).includes(local.setLocale('en').weekdayLong!)
    default: {
      const [from, until] = value as [string, string]
      const clock = local.toFormat('HH:mm')
      return from <= until ? clock >= from && clock <= until : clock >= from || clock <= until
    }
  }
}

function postcodeFits(postcode: string, member: string): boolean {
  const bare = postcode.replace(/[ -]/g, '')
  if (bare === member.replace(/[ -]/g, '')) return true
  if (member.endsWith('*')) return bare.startsWith(member.slice(0, -1).replace(/[ -]/g, ''))
  const [low, high, more] = member.split('-').map((end) => end.trim())
  return (
    low !== undefined &&
    high !== undefined &&
    more === undefined &&
    low.length === high.length &&
    low !== '' &&
    bare.length >= low.length &&
    bare.slice(0, low.length) >= low &&
    bare.slice(0, low.length) <= high &&
    wholePart(postcode, bare, low.length)
  )
}

/**
 * The compared characters are a whole part of the postcode: no digit follows them without a blank or hyphen between.
 */
const wholePart = (postcode: string, bare: string, length: number): boolean => {
  if (!'0123456789'.includes(bare[length] ?? 'x')) return true
  const parts = postcode.split(/[ -]/).map((part) => part.length)
  return (
    parts.some((_, i) => parts.slice(0, i + 1).reduce((a, b) => a + b) === length) ||
    (/^[a-z]{1,2}\d[a-z\d]?\d[a-z]{2}$/.test(bare) && bare.length === length + 3)
  )
}

const plain = (text: string): string =>
  text.normalize('NFKC').trim().split(/\s+/).join(' ').toLowerCase().replaceAll('ς', 'σ')

function passes(test: Test, type: FactType, value: FactValue, rulebook: Rulebook, ready: ReadyWorld): boolean {
  const opposite = {
    'is not': 'is',
    'is none of': 'is one of',
    '≠': '=',
    'has none': 'has any',
    'contains none of': 'contains any of',
  } as const
  if (test.op in opposite)
    return !passes({ ...test, op: opposite[test.op as keyof typeof opposite] }, type, value, rulebook, ready)
  if (test.op === 'is missing') return value === undefined
  if (test.op === 'is known') return value !== undefined
  if (value === undefined) return false
  const members = (Array.isArray(test.value) ? (test.value as ListEntry[]) : [])
    .flatMap((entry) =>
      typeof entry === 'string' ? [entry] : (rulebook.groups.find((group) => group.id === entry.group)?.members ?? []),
    )
    .map(plain)
  if (type === 'yes/no') return value === test.value
  if (type === 'tags') {
    const tags = (value as readonly string[]).map(plain)
    return test.op === 'has any'
      ? members.some((tag) => tags.includes(tag))
      : members.every((tag) => tags.includes(tag))
  }
  if (type === 'text' || type === 'country' || type === 'postcode') {
    const blanks = type === 'postcode' && test.op !== 'is one of' ? /[ -]/g : /(?!)/g
    const text = plain(value as string).replace(blanks, '')
    const wanted = plain(typeof test.value === 'string' ? test.value : '').replace(blanks, '')
    switch (test.op) {
      case 'is':
        return text === wanted
      case 'is one of':
        return members.includes(text) || (type === 'postcode' && members.some((member) => postcodeFits(text, member)))
      case 'contains any of':
        return members.some((member) => member !== '' && text.includes(member))
      case 'contains':
        return text.includes(wanted)
      case 'starts with':
        return text.startsWith(wanted)
      case 'ends with':
        return text.endsWith(wanted)
      default:
        return new RegExp(
          `^${wanted
            .replace(/[.+^${}()|[\]\\]/g, '\\$&')
            .replace(/\*/g, '.*')
            .replace(/\?/g, '.')}$`,
          'su',
        ).test(text)
    }
  }
  const number = (given: unknown): number =>
    typeof given === 'number' ? given : toHome(given as Money, ready.world.rates)!
  const n = value as number
  switch (test.op) {
    case '=':
      return n === number(test.value)
    case '<':
      return n < number(test.value)
    case '≤':
      return n <= number(test.value)
    case '>':
      return n > number(test.value)
    case '≥':
      return n >= number(test.value)
    default:
      return n >= number((test.value as unknown[])[0]) && n <= number((test.value as unknown[])[1])
  }
}
