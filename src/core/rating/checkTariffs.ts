import { formatMoney, formatWeight, money } from '@/core/units'
import type { Service, Tariff } from './tariff'

/** What is wrong or doubtful about a tariff, in words. An error keeps it from being taken; a doubt is told. */
export interface TariffFinding {
  readonly severity: 'error' | 'doubt'
  readonly service: string
  readonly from: string
  readonly zone: string
  readonly sentence: string
}

/** Checks tariffs against their services and against each other: bands, zones, currencies, and the days they hold. */
export function checkTariffs(
  tariffs: readonly Tariff[],
  services: readonly Service[],
  hasRate: (currency: string) => boolean,
): TariffFinding[] {
  const found: TariffFinding[] = []
  for (const tariff of tariffs) {
    const say = (severity: TariffFinding['severity'], zone: string, sentence: string): void =>
      void found.push({ severity, service: tariff.service, from: tariff.from, zone, sentence })
    const service = services.find((candidate) => candidate.id === tariff.service)
    if (!service) {
      say('error', '', `There is no service "${tariff.service}".`)
      continue
    }
    if (!hasRate(tariff.currency)) say('error', '', `There is no exchange rate for ${tariff.currency}: add one first.`)
    if (tariff.until !== null && tariff.until < tariff.from)
      say('error', '', `It ends on ${tariff.until}, before it begins.`)
    checkZones(tariff, service, say)
    checkSurcharges(tariff, service, say)
  }
  for (const service of services)
    checkDays(
      service,
      tariffs.filter((tariff) => tariff.service === service.id),
      found,
    )
  return found
}

type Say = (severity: TariffFinding['severity'], zone: string, sentence: string) => void

function checkZones(tariff: Tariff, service: Service, say: Say): void {
  const wanted = [...new Set(service.zones.map(({ zone }) => zone))]
  for (const zone of wanted)
    if (!tariff.zones[zone]) say('doubt', zone, `Zone ${zone} has no prices: ${service.name} is not offered there.`)
  for (const [zone, { bands, step, minimum }] of Object.entries(tariff.zones)) {
    if (!wanted.includes(zone)) say('doubt', zone, `${service.name} has no zone ${zone}: its prices are never used.`)
    if (bands.length === 0) say('error', zone, 'The zone has no weight band.')
    bands.forEach(({ upTo, price }, i) => {
      const before = bands[i - 1]
      if (upTo <= 0) say('error', zone, `The band up to ${formatWeight(upTo)} takes nothing.`)
      if (price < 0) say('error', zone, `The price up to ${formatWeight(upTo)} is negative.`)
      if (before && upTo === before.upTo) say('error', zone, `There are two bands up to ${formatWeight(upTo)}.`)
      if (before && upTo < before.upTo)
        say(
          'error',
          zone,
          `The band up to ${formatWeight(upTo)} comes after the one up to ${formatWeight(before.upTo)}.`,
        )
      if (before && upTo > before.upTo && price < before.price)
        say(
          'doubt',
          zone,
          `Up to ${formatWeight(upTo)} costs ${amount(price, tariff)}, less than up to ${formatWeight(before.upTo)} (${amount(before.price, tariff)}).`,
        )
    })
    const last = bands[bands.length - 1]
    if (last && !step && last.upTo < service.limits.weight && tariff.basis === 'parcel')
      say(
        'doubt',
        zone,
        `The bands end at ${formatWeight(last.upTo)}, the service takes ${formatWeight(service.limits.weight)}: between them there is no price.`,
      )
    if (minimum !== undefined && minimum < 0) say('error', zone, 'The minimum is negative.')
    if (step && (step.every <= 0 || step.price < 0))
      say('error', zone, 'The step above the last band must have a weight and a price above 0.')
  }
}

const amount = (minor: number, { currency }: Tariff): string => formatMoney(money(minor, currency))

function checkSurcharges(tariff: Tariff, service: Service, say: Say): void {
  for (const surcharge of tariff.surcharges) {
    const { on } = surcharge
    if ((on === 'long' || on === 'big' || on === 'heavy') && surcharge.over === undefined)
      say('error', '', `The surcharge "${on}" does not say above what it is due.`)
    if (on === 'remote' && !surcharge.areas) say('error', '', 'The surcharge "remote" has no areas.')
    if (surcharge.from && surcharge.until && surcharge.until < surcharge.from)
      say('error', '', `The surcharge "${on}" ends before it begins.`)
    for (const zone of surcharge.zones ?? [])
      if (!service.zones.some((candidate) => candidate.zone === zone))
        say('doubt', zone, `The surcharge "${on}" names zone ${zone}, which ${service.name} does not have.`)
    if (!surcharge.amount && !surcharge.permille && !surcharge.perHundred && !surcharge.months && on !== 'signature')
      say('doubt', '', `The surcharge "${on}" costs nothing.`)
  }
  if (service.offers.includes('signature') && !tariff.surcharges.some(({ on }) => on === 'signature'))
    say('doubt', '', 'A signature is offered, and no fee for it is listed: it counts as free.')
}

/** Days without a tariff between two, and days with two. */
function checkDays(service: Service, tariffs: readonly Tariff[], found: TariffFinding[]): void {
  const sorted = [...tariffs].sort((a, b) => (a.from < b.from ? -1 : 1))
  sorted.forEach((tariff, i) => {
    const next = sorted[i + 1]
    const say = (severity: TariffFinding['severity'], sentence: string): void =>
      void found.push({ severity, service: service.id, from: tariff.from, zone: '', sentence })
    if (!next) {
      if (tariff.until !== null) say('doubt', `It ends on ${tariff.until}, and no tariff follows.`)
      return
    }
    if (next.from === tariff.from) return say('error', `Two tariffs begin on ${tariff.from}.`)
    if (tariff.until === null || tariff.until >= next.from)
      say('doubt', `It and the one from ${next.from} hold on the same days: the later one counts.`)
    else if (dayAfter(tariff.until) < next.from)
      say('doubt', `From ${dayAfter(tariff.until)} to the day before ${next.from} there is no tariff.`)
  })
  if (tariffs.length === 0)
    found.push({
      severity: 'doubt',
      service: service.id,
      from: '',
      zone: '',
      sentence: `${service.name} has no tariff: it is never offered.`,
    })
}

const dayAfter = (day: string): string =>
  new Date(Date.parse(`${day}T00:00:00Z`) + 86_400_000).toISOString().slice(0, 10)
