import type { Order } from '@/core/order'
import type { Pins, Routed, Rulebook } from '@/core/rulebook/language'
import type { World } from '@/core/world'
import { atHome, beginOf, nextDay, plain, shown } from './plain'

/*
 * An interpreter of the rulebook language, written from the documents. What goods weigh in which box, what a service
 * costs and when it arrives is taken from the outcome that is to be checked; everything that rules say about it is
 * worked out here.
 */

type Value = string | number | boolean | readonly string[] | undefined
interface Test {
  readonly fact: string
  readonly op: string
  readonly value?: unknown
}
type Tree =
  | { readonly all: readonly Tree[] }
  | { readonly any: readonly Tree[] }
  | { readonly none: readonly Tree[] }
  | { readonly items: string; readonly where: Tree }
  | { readonly sum: string; readonly where: Tree; readonly op: string; readonly value: unknown }
  | { readonly saved: string }
  | Test

export interface Answer {
  readonly matched: readonly string[]
  readonly decisions: Readonly<Record<string, unknown>>
}

const stages = ['triage', 'packing', 'origin', 'protection', 'service', 'papers']
const stageOf: Readonly<Record<string, string>> = {
  tags: 'triage',
  hold: 'triage',
  shipOn: 'triage',
  weight: 'triage',
  speed: 'triage',
  priority: 'triage',
  combine: 'triage',
  preset: 'packing',
  dimensions: 'packing',
  inserts: 'packing',
  apart: 'packing',
  parcelLimits: 'packing',
  split: 'packing',
  location: 'origin',
  insurance: 'protection',
  signature: 'protection',
  duties: 'protection',
  addressKind: 'protection',
  needs: 'protection',
  within: 'protection',
  picks: 'service',
  barred: 'service',
  allowed: 'service',
  ceiling: 'service',
  slip: 'papers',
  handOver: 'papers',
  documents: 'papers',
  reference: 'papers',
  buyByItself: 'papers',
  returnLabel: 'papers',
  returns: 'papers',
  returnServices: 'papers',
  returnPaidByBuyer: 'papers',
  notice: 'papers',
  textMessage: 'papers',
  toldSteps: 'papers',
  tellWhen: 'papers',
}
const standard: Readonly<Record<string, unknown>> = {
  tags: [],
  hold: null,
  shipOn: null,
  weight: 0,
  speed: null,
  priority: 'normal',
  combine: false,
  preset: null,
  dimensions: null,
  inserts: [],
  apart: [],
  parcelLimits: null,
  split: 'when needed',
  location: null,
  insurance: { cover: 'none' },
  signature: false,
  duties: 'DAP',
  addressKind: 'as the address says',
  needs: [],
  within: null,
  picks: [{ by: 'cheapest by promise' }, { by: 'cheapest' }],
  barred: [],
  allowed: null,
  ceiling: null,
  slip: null,
  handOver: null,
  documents: [],
  reference: '{number}',
  buyByItself: false,
  returnLabel: false,
  returns: null,
  returnServices: [],
  returnPaidByBuyer: false,
  notice: true,
  textMessage: true,
  toldSteps: [],
  tellWhen: null,
}
const sets = ['tags', 'inserts', 'apart', 'needs', 'barred', 'documents', 'toldSteps']
const known = (text: string): string | undefined => (plain(text) === '' ? undefined : text)
const compact = (text: string): string => plain(text).replace(/[ -]/g, '')

export function interpret(
  order: Order,
  rulebook: Rulebook,
  world: World,
  now: number,
  pins: Pins,
  found: Routed,
): Answer {
  const wishes: { id: string; value: unknown; rule: string }[] = []
  const matched: string[] = []
  const decisions: Record<string, unknown> = { ...standard }
  const { rates } = world
  let settled = 0
  const goods = order.items.some(({ unitWeight }) => unitWeight === null)
    ? undefined
    : order.items.reduce((sum, item) => sum + item.unitWeight! * item.quantity, 0)

  const zone = (): string =>
    (settled > 2 ? world.locations.find(({ id }) => id === found.location)?.timeZone : undefined) ??
    world.locations[0]?.timeZone ??
    'UTC'
  for (const [at, stage] of stages.entries()) {
    settled = at
    const today = shown(now, zone()).day
    for (const rule of rulebook.rules) {
      if (
        rule.stage !== stage ||
        !rule.on ||
        (rule.from && rule.from > today) ||
        (rule.until && rule.until < today) ||
        !holds(rule.when)
      )
        continue
      matched.push(rule.id)
      for (const { set, to } of rule.then) wishes.push({ id: set, value: to, rule: rule.id })
      if (rule.finishStage) break
    }
    for (const id of Object.keys(stageOf)) if (stageOf[id] === stage) decisions[id] = decide(id)
  }
  return { matched, decisions }

  function decide(id: string): unknown {
    const pinned = pins as Readonly<Record<string, unknown>>
    if (id === 'hold')
      return heldNow(id in pinned ? pinned[id] : (wishes.find((wish) => wish.id === id)?.value ?? null))
    if (id === 'preset' && sizeGoesFirst(pinned)) return null
    if (id in pinned) return pinned[id]
    const wanted = wishes.filter((wish) => wish.id === id)
    if (id === 'weight') return wanted.reduce((sum, { value }) => sum + (value as number), 0)
    if (sets.includes(id)) {
      const members: unknown[] = []
      const name = (member: unknown): string => {
        if (typeof member === 'string') return id === 'tags' || id === 'apart' ? plain(member) : member
        return `${plain((member as { name: string }).name)}|${(member as { weight: number }).weight}`
      }
      for (const member of wanted.flatMap(({ value }) => value as unknown[]))
        if (!members.some((other) => name(other) === name(member))) members.push(member)
      return members
    }
    if (id === 'allowed') return narrowed(wanted.map(({ value }) => value as readonly string[]))
    if (wanted[0]) return wanted[0].value
    const row = wordingRow()
    if (id === 'speed' && row?.gives.speed) return row.gives.speed
    if (id === 'preset' && row?.gives.preset) return row.gives.preset
    if (id === 'picks' && row?.gives.pick) return [row.gives.pick]
    return standard[id]
  }

  function sizeGoesFirst(pinned: Readonly<Record<string, unknown>>): boolean {
    if ('preset' in pinned) return false
    if ('dimensions' in pinned) return true
    const size = wishes.findIndex(({ id }) => id === 'dimensions')
    const preset = wishes.findIndex(({ id }) => id === 'preset')
    return size >= 0 && (preset < 0 || (size < preset && wishes[size]!.rule !== wishes[preset]!.rule))
  }

  /** A carrier stands for its services: what is left of several lists is what all of them allow. */
  function narrowed(lists: readonly (readonly string[])[]): readonly string[] | null {
    if (lists.length < 2) return lists[0] ?? null
    const carrier = (id: string): string | undefined => world.services.find((service) => service.id === id)?.carrier
    const left: string[] = []
    for (const entry of lists[0]!) {
      const parts = lists.every((list) => list.includes(entry))
        ? [entry]
        : world.services.some((service) => service.carrier === entry)
          ? world.services.filter((service) => service.carrier === entry).map(({ id }) => id)
          : [entry]
      for (const part of parts)
        if (!left.includes(part) && lists.every((list) => list.includes(part) || list.includes(carrier(part) ?? part)))
          left.push(part)
    }
    return left
  }

  function heldNow(hold: unknown): string | null {
    if (hold === null || typeof hold === 'string') return hold
    const { reason, until } = hold as {
      reason: string
      until: { hours?: number; days?: number; day?: string; weekday?: string }
    }
    const placed = Date.parse(order.placedAt)
    let ends = placed
    if (until.hours !== undefined) ends += until.hours * 3_600_000
    else if (until.days !== undefined) ends += until.days * 86_400_000
    else if (until.day !== undefined) ends = beginOf(until.day, zone())
    else {
      let day = nextDay(shown(placed, zone()).day)
      while (shown(beginOf(day, zone()), zone()).weekday !== until.weekday) day = nextDay(day)
      ends = beginOf(day, zone())
    }
    return ends <= now ? null : reason
  }

  function corrected(): number | undefined {
    const correction = decide('weight') as number
    if (goods === undefined && !('weight' in pins && correction > 0)) return undefined
    return Math.max(0, order.items.reduce((sum, item) => sum + (item.unitWeight ?? 0) * item.quantity, 0) + correction)
  }

  function wordingRow() {
    if (plain(order.wording) === '') return undefined
    const within = (n: number | null | undefined, band?: readonly [number, number]): boolean =>
      !band || (n !== undefined && n !== null && n >= band[0] && n <= band[1])
    return world.wordings
      ?.find(({ channel }) => channel === order.channel)
      ?.rows.find(
        (row) =>
          pattern(plain(row.wording), plain(order.wording)) &&
          (row.countries?.includes(order.shipTo.country) ?? true) &&
          within(corrected(), row.weight) &&
          within(atHome(order.value, rates), row.value),
      )
  }

  function holds(tree: Tree): boolean {
    if ('saved' in tree) {
      const saved = rulebook.conditions?.find(({ id }) => id === tree.saved)
      return saved !== undefined && holds(saved.when)
    }
    if ('all' in tree) return tree.all.every(holds)
    if ('any' in tree) return tree.any.some(holds)
    if ('none' in tree) return !tree.none.some(holds)
    if ('items' in tree) {
      const hits = order.items.filter((item) => itemHolds(tree.where, item)).length
      if (tree.items === 'any') return hits > 0
      return tree.items === 'no' ? hits === 0 : hits > 0 && hits === order.items.length
    }
    if ('sum' in tree) {
      let total: number | undefined = 0
      for (const item of order.items) {
        if (!itemHolds(tree.where, item) || total === undefined) continue
        const price = atHome(item.unitPrice, rates)
        const part: number | undefined =
          tree.sum === 'lines'
            ? 1
            : tree.sum === 'quantity'
              ? item.quantity
              : tree.sum === 'weight'
                ? item.unitWeight === null
                  ? undefined
                  : item.unitWeight * item.quantity
                : price === null
                  ? undefined
                  : price * item.quantity
        total = part === undefined ? undefined : total + part
      }
      return passes({ fact: '', op: tree.op, value: tree.value }, total, 'number')
    }
    const [kind, value] = factOf(tree.fact)
    return kind === 'time' ? timePasses(tree, value as number | undefined) : passes(tree, value, kind)
  }

  function itemHolds(tree: Tree, item: Order['items'][number]): boolean {
    if ('all' in tree) return tree.all.every((member) => itemHolds(member, item))
    if ('any' in tree) return tree.any.some((member) => itemHolds(member, item))
    if ('none' in tree) return !tree.none.some((member) => itemHolds(member, item))
    if (!('fact' in tree)) return false
    switch (tree.fact) {
      case 'sku':
        return passes(tree, known(item.sku), 'text')
      case 'title':
        return passes(tree, known(item.title), 'text')
      case 'item tags':
        return passes(tree, item.tags, 'tags')
      case 'item quantity':
        return passes(tree, item.quantity, 'number')
      case 'unit weight':
        return passes(tree, item.unitWeight ?? undefined, 'number')
      case 'unit price':
        return passes(tree, atHome(item.unitPrice, rates) ?? undefined, 'number')
      case 'dangerous goods':
        return passes(tree, known(item.dangerousGoods), 'text')
      case 'handling':
        return passes(tree, item.handling ?? [], 'tags')
      case 'hs code':
        return passes(tree, known(item.hsCode), 'text')
      case 'item origin':
        return passes(tree, known(item.origin), 'text')
      default:
        return passes(tree, item.size ? Math.max(...item.size) : undefined, 'number')
    }
  }

  /** A day without a time counts until its end, by the clocks of the location. */
  function endOf(day: string): number | undefined {
    return day === '' ? undefined : beginOf(nextDay(day), zone()) - 1
  }

  function factOf(id: string): ['text' | 'postcode' | 'number' | 'tags' | 'yes/no' | 'time', Value] {
    const { shipTo, buyer } = order
    const hours = (from: number, until: number | undefined): number | undefined =>
      until === undefined ? undefined : Math.floor((until - from) / 3_600_000)
    const parcels = settled > 1 ? found.parcels : []
    const most = (of: (parcel: (typeof parcels)[number]) => number): number | undefined =>
      parcels.length === 0 ? undefined : Math.max(...parcels.map(of))
    const quote = settled > 4 ? found.quote : null
    switch (id) {
      case 'channel':
        return ['text', known(order.channel)]
      case 'order number':
        return ['text', known(order.number)]
      case 'wording':
        return ['text', known(order.wording)]
      case 'payment':
        return ['text', order.paymentMethod]
      case 'shipping paid':
        return ['number', atHome(order.shippingPaid, rates) ?? undefined]
      case 'order value':
        return ['number', atHome(order.value, rates) ?? undefined]
      case 'discount':
        return ['number', atHome(order.discount, rates) ?? undefined]
      case 'return reason':
        return ['text', order.comesBack?.reason]
      case 'return days':
        return ['number', order.comesBack?.days]
      case 'return value':
        return ['number', order.comesBack?.value && (atHome(order.comesBack.value, rates) ?? undefined)]
      case 'returning buyer':
        return ['yes/no', buyer.returning]
      case 'has e-mail':
        return ['yes/no', buyer.email !== '']
      case 'has phone':
        return ['yes/no', buyer.phone !== '']
      case 'country':
        return ['text', known(shipTo.country)]
      case 'postcode':
        return ['postcode', known(shipTo.postcode)]
      case 'city':
        return ['text', known(shipTo.city)]
      case 'region':
        return ['text', known(shipTo.region)]
      case 'post-office box':
        return ['yes/no', shipTo.lines.some((line) => /postbus|po box|postfach|boite postale/i.test(line))]
      case 'company':
        return ['yes/no', shipTo.company !== '']
      case 'residential':
        return ['yes/no', shipTo.company === '']
      case 'remote area':
        return [
          'yes/no',
          (world.remoteAreas ?? []).some(
            ({ country, prefixes }) =>
              country === shipTo.country &&
              prefixes.some((prefix) => compact(shipTo.postcode).startsWith(compact(prefix))),
          ),
        ]
      case 'parcel locker':
        return ['yes/no', shipTo.lines.some((line) => /packstation/i.test(line))]
      case 'territory':
        return ['text', undefined]
      case 'address problems':
        return [
          'yes/no',
          order.problems.some(
            ({ code }) => ['unknown-country', 'no-street', 'no-city'].includes(code) || code.startsWith('address-'),
          ),
        ]
      case 'quantity':
        return ['number', order.items.reduce((sum, item) => sum + item.quantity, 0)]
      case 'lines':
        return ['number', order.items.length]
      case 'items weight':
        return ['number', goods]
      case 'items volume':
        return [
          'number',
          order.items.some(({ size }) => size === null)
            ? undefined
            : order.items.reduce((sum, { size, quantity }) => sum + size![0] * size![1] * size![2] * quantity, 0) / 1e6,
        ]
      case 'stocked at':
        return [
          'tags',
          world.locations
            .filter(
              ({ stock }) =>
                !stock ||
                order.items.every(
                  ({ sku }) =>
                    order.items.filter((other) => other.sku === sku).reduce((sum, other) => sum + other.quantity, 0) <=
                    (stock[sku] ?? 0),
                ),
            )
            .map(({ id: location }) => location),
        ]
      case 'placed':
        return ['time', Date.parse(order.placedAt) || undefined]
      case 'paid':
        return ['time', order.paidAt ? Date.parse(order.paidAt) : undefined]
      case 'promised':
        return ['time', endOf(order.promisedBy)]
      case 'now':
        return ['time', now]
      case 'hours to promise':
        return ['number', hours(now, endOf(order.promisedBy))]
      case 'age':
        return ['number', hours(Date.parse(order.placedAt) || now, now)]
      case 'tags':
        return ['tags', settled > 0 ? (decisions.tags as string[]) : []]
      case 'held':
        return ['yes/no', settled > 0 && decisions.hold !== null]
      case 'speed':
        return ['text', settled > 0 ? ((decisions.speed as string | null) ?? undefined) : undefined]
      case 'priority':
        return ['text', settled > 0 ? (decisions.priority as string) : 'normal']
      case 'weight':
        return ['number', settled > 0 ? corrected() : goods]
      case 'preset':
        return ['text', known(parcels[0]?.preset ?? '')]
      case 'parcels':
        return ['number', parcels.length === 0 ? undefined : parcels.length]
      case 'parcel weight':
        return ['number', corrected() === undefined ? undefined : most(({ weight }) => weight)]
      case 'shipment weight':
        return [
          'number',
          corrected() === undefined || parcels.length === 0
            ? undefined
            : parcels.reduce((sum, { weight }) => sum + weight, 0),
        ]
      case 'longest side':
        return ['number', most(({ size }) => Math.max(...size))]
      case 'girth':
        return ['number', most(({ size }) => Math.max(...size) + 2 * (size[0] + size[1] + size[2] - Math.max(...size)))]
      case 'parcel volume':
        return [
          'number',
          parcels.length === 0
            ? undefined
            : parcels.reduce((sum, { size }) => sum + size[0] * size[1] * size[2], 0) / 1e6,
        ]
      case 'location':
        return ['text', settled > 2 ? (found.location ?? undefined) : undefined]
      case 'trade':
        return ['text', settled > 2 ? (found.trade ?? undefined) : undefined]
      case 'distance':
        return ['text', settled > 2 ? distance() : undefined]
      case 'insured value':
        return ['number', settled > 3 ? insured() : 0]
      case 'signature':
        return ['yes/no', settled > 3 && decisions.signature === true]
      case 'needs':
        return [
          'tags',
          settled > 3
            ? [
                ...(decisions.needs as string[]),
                ...(decisions.duties === 'DDP' && found.trade === 'export' ? ['duties paid'] : []),
              ]
            : [],
        ]
      case 'service':
        return ['text', quote?.service]
      case 'carrier':
        return ['text', quote?.carrier]
      case 'runner-up':
        return ['text', settled > 4 ? found.runnerUp?.service : undefined]
      case 'cost':
        return ['number', quote?.cost]
      case 'arrival':
        return ['time', quote ? endOf(quote.arrivesOn) : undefined]
      case 'days late':
        return [
          'number',
          quote && order.promisedBy
            ? Math.round((Date.parse(quote.arrivesOn) - Date.parse(order.promisedBy)) / 86_400_000)
            : undefined,
        ]
      case 'promise chance':
        return ['number', quote && order.promisedBy ? promiseChance(quote) : undefined]
      default:
        throw new Error(`The reference does not know the fact "${id}".`)
    }
  }

  /** From the widest lane to the narrowest, each leaning on the one before with the weight of 12 parcels. */
  function promiseChance(given: { service: string; zone: string; arrivesOn: string }): number | undefined {
    const day = 86_400_000
    const spare = Math.round((Date.parse(order.promisedBy) - Date.parse(given.arrivesOn)) / day)
    const weekday = new Date(given.arrivesOn).getUTCDay() || 7
    const lanes = (world.arrivals ?? []).filter(({ service }) => service === given.service)
    const there = lanes.filter(({ zone, country }) => zone === given.zone && country === order.shipTo.country)
    const from = there.filter(({ location }) => location === found.location)
    let chance: number | undefined
    for (const some of [lanes, there, from, from.filter((lane) => lane.weekday === weekday)]) {
      const came = some.flatMap((lane) => lane.came)
      const all = came.reduce((sum, [, parcels]) => sum + parcels, 0)
      if (all === 0) continue
      const kept = came.reduce((sum, [days, parcels]) => sum + (days <= spare ? parcels : 0), 0)
      chance = chance === undefined ? kept / all : (kept + 12 * chance) / (all + 12)
    }
    return chance === undefined ? undefined : Math.round(1000 * chance + 1e-9) / 10
  }

  function insured(): number {
    const insurance = decisions.insurance as { cover: string; amount?: { minor: number; currency: string } }
    return insurance.cover === 'none'
      ? 0
      : (atHome(insurance.cover === 'amount' ? insurance.amount! : order.value, rates) ?? 0)
  }

  function distance(): string | undefined {
    const from = world.locations.find(({ id }) => id === found.location)
    const to = order.shipTo
    if (!from || to.country === '') return undefined
    if (from.country === to.country)
      return compact(from.address.postcode).slice(0, 2) === compact(to.postcode).slice(0, 2) ? 'local' : 'domestic'
    // The test worlds lie in Europe.
    return 'same continent'
  }

  function timePasses({ op, value }: Test, at: number | undefined): boolean {
    if (op === 'is missing') return at === undefined
    if (op === 'is known') return at !== undefined
    if (at === undefined) return false
    const { day, clock, weekday } = shown(at, zone())
    const span = (): number => {
      const { hours, days } = value as { hours?: number; days?: number }
      return (hours ?? days! * 24) * 3_600_000
    }
    switch (op) {
      case 'before':
        return day < (value as string)
      case 'after':
        return day > (value as string)
      case 'within the last':
        return at <= now && now - at <= span()
      case 'within the next':
        return at >= now && at - now <= span()
      case 'weekday is':
        return (value as string[]).includes(weekday)
      default: {
        const [from, until] = value as [string, string]
        return from <= until ? clock >= from && clock <= until : clock >= from || clock <= until
      }
    }
  }

  function members(value: unknown): string[] {
    return (Array.isArray(value) ? (value as (string | { group: string })[]) : [])
      .flatMap((entry) =>
        typeof entry === 'string' ? [entry] : (rulebook.groups.find(({ id }) => id === entry.group)?.members ?? []),
      )
      .map(plain)
  }

  function passes(test: Test, value: Value, kind: string): boolean {
    const { op } = test
    const opposite: Readonly<Record<string, string>> = {
      'is not': 'is',
      'is none of': 'is one of',
      '≠': '=',
      'has none': 'has any',
      'contains none of': 'contains any of',
    }
    if (opposite[op]) return !passes({ ...test, op: opposite[op] }, value, kind)
    if (op === 'is missing') return value === undefined
    if (op === 'is known') return value !== undefined
    if (value === undefined) return false
    if (kind === 'yes/no') return value === test.value
    if (kind === 'tags') {
      const tags = (value as readonly string[]).map(plain)
      return op === 'has any'
        ? members(test.value).some((tag) => tags.includes(tag))
        : members(test.value).every((tag) => tags.includes(tag))
    }
    if (kind === 'number') {
      const limit = (given: unknown): number | null =>
        typeof given === 'number' ? given : atHome(given as { minor: number; currency: string }, rates)
      if (op === 'between') {
        const [low, high] = (test.value as unknown[]).map(limit)
        return low !== null && high !== null && (value as number) >= low! && (value as number) <= high!
      }
      const end = limit(test.value)
      if (end === null) return false
      const n = value as number
      if (op === '=') return n === end
      if (op === '<') return n < end
      if (op === '≤') return n <= end
      return op === '>' ? n > end : n >= end
    }
    const own = kind === 'postcode' ? compact : plain
    const text = own(value as string)
    if (op === 'is one of')
      return kind === 'postcode'
        ? members(test.value).some((member) => postcodeFits(plain(value as string), member))
        : members(test.value).includes(text)
    if (op === 'contains any of') return members(test.value).some((member) => member !== '' && text.includes(member))
    const wanted = own(typeof test.value === 'string' ? test.value : '')
    if (op === 'is') return text === wanted
    if (op === 'contains') return text.includes(wanted)
    if (op === 'starts with') return text.startsWith(wanted)
    return op === 'ends with' ? text.endsWith(wanted) : pattern(wanted, text)
  }
}

/** `*` any run, `?` one character, told by trying. */
function pattern(wanted: string, text: string): boolean {
  const [w, t] = [Array.from(wanted), Array.from(text)]
  const reach: boolean[][] = Array.from({ length: w.length + 1 }, () => new Array<boolean>(t.length + 1).fill(false))
  reach[0]![0] = true
  for (let i = 0; i <= w.length; i++)
    for (let k = 0; k <= t.length; k++) {
      if (!reach[i]![k]) continue
      if (w[i] === '*') {
        reach[i + 1]![k] = true
        if (k < t.length) reach[i]![k + 1] = true
      } else if (i < w.length && k < t.length && (w[i] === '?' || w[i] === t[k])) reach[i + 1]![k + 1] = true
    }
  return reach[w.length]![t.length]!
}

function postcodeFits(postcode: string, member: string): boolean {
  const bare = postcode.replace(/[ -]/g, '')
  if (bare === member.replace(/[ -]/g, '')) return true
  if (member.endsWith('*')) return bare.startsWith(member.slice(0, -1).replace(/[ -]/g, ''))
  const ends = member.split(/ ?(?:-|–|\.\.) ?/)
  if (
    ends.length !== 2 ||
    ends[0]!.length !== ends[1]!.length ||
    !/^[a-z0-9]+$/.test(ends[0]!) ||
    !/^[a-z0-9]+$/.test(ends[1]!)
  )
    return false
  const n = ends[0]!.length
  const head = bare.slice(0, n)
  if (head.length < n || head < ends[0]! || head > ends[1]!) return false
  if (!/\d/.test(bare[n] ?? '')) return true
  // A digit follows: only behind a blank or hyphen, or as the last part of a British postcode.
  let letters = 0
  for (const letter of postcode) {
    if (letter === ' ' || letter === '-') {
      if (letters === n) return true
    } else letters++
  }
  return /^[a-z]{1,2}\d[a-z\d]?\d[a-z]{2}$/.test(bare) && n === bare.length - 3
}
