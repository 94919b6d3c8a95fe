import { type TableRow, writeTariffTable } from './tariffTable'
import type { Tariff } from './tariff'

/** One thing that differs between the tariffs that hold and those of a file. */
export interface TariffDifference {
  readonly kind: 'added' | 'removed' | 'changed'
  readonly service: string
  readonly from: string
  /** What it is about, in words: `zone R1 up to 2 kg`. */
  readonly what: string
  readonly before: string
  readonly after: string
}

/** Tariffs of a file take the place of those of the same service and first day; the others stay. */
export function mergeTariffs(current: readonly Tariff[], given: readonly Tariff[]): Tariff[] {
  const key = ({ service, from }: Tariff): string => `${service} ${from}`
  const fresh = new Map(given.map((tariff) => [key(tariff), tariff]))
  return [
    ...current.map((tariff) => fresh.get(key(tariff)) ?? tariff),
    ...given.filter((tariff) => !current.some((other) => key(other) === key(tariff))),
  ]
}

/** What differs, row by row, in the words of the table. A tariff that is wholly new or gone is one difference. */
export function differencesOf(before: readonly Tariff[], after: readonly Tariff[]): TariffDifference[] {
  const found: TariffDifference[] = []
  const keyOf = ({ service, from }: Tariff): string => `${service} ${from}`
  const olds = new Map(before.map((tariff) => [keyOf(tariff), tariff]))
  const news = new Map(after.map((tariff) => [keyOf(tariff), tariff]))
  for (const [key, tariff] of news) {
    const old = olds.get(key)
    if (!old)
      found.push({
        kind: 'added',
        service: tariff.service,
        from: tariff.from,
        what: 'the whole tariff',
        before: '',
        after: `${Object.keys(tariff.zones).length} zones, ${tariff.surcharges.length} surcharges`,
      })
    else if (old !== tariff) found.push(...rowDifferences(old, tariff))
  }
  for (const [key, tariff] of olds)
    if (!news.has(key))
      found.push({
        kind: 'removed',
        service: tariff.service,
        from: tariff.from,
        what: 'the whole tariff',
        before: `${Object.keys(tariff.zones).length} zones`,
        after: '',
      })
  return found
}

function rowDifferences(old: Tariff, fresh: Tariff): TariffDifference[] {
  const [before, after] = [rowsByName(old), rowsByName(fresh)]
  const names = [...new Set([...before.keys(), ...after.keys()])]
  return names.flatMap((what): TariffDifference[] => {
    const [a, b] = [before.get(what) ?? '', after.get(what) ?? '']
    return a === b
      ? []
      : [
          {
            kind: kindOf(a, b),
            service: fresh.service,
            from: fresh.from,
            what,
            before: a,
            after: b,
          },
        ]
  })
}

/** The surcharges of a tariff as people read them: what for, and how much, in the words of the tariff table. */
export const surchargeLines = (tariff: Tariff): readonly { readonly what: string; readonly value: string }[] =>
  namedRows(tariff).flatMap(({ name, row }) =>
    row.row === 'surcharge' || row.row === 'month'
      ? [{ what: name.replace('surcharge ', ''), value: valueOf(row) }]
      : [],
  )

const rowsByName = (tariff: Tariff): Map<string, string> =>
  new Map(namedRows(tariff).map(({ name, row }) => [name, valueOf(row)]))

/** The rows of a tariff's table, each under a name of its own. */
function namedRows(tariff: Tariff): { readonly name: string; readonly row: TableRow }[] {
  const seen = new Map<string, number>()
  return writeTariffTable([tariff]).map((row) => {
    const name = nameOf(row)
    const n = (seen.get(name) ?? 0) + 1
    seen.set(name, n)
    return { name: n === 1 ? name : `${name} (${n})`, row }
  })
}

function nameOf(row: TableRow): string {
  switch (row.row) {
    case 'tariff':
      return 'terms'
    case 'price':
      return `zone ${row.zone} up to ${row.weight}`
    case 'step':
      return `zone ${row.zone} above the last band`
    case 'shipment':
      return `zone ${row.zone} per shipment`
    case 'minimum':
      return `zone ${row.zone} minimum`
    case 'month':
      return `${row.on} in ${row.month}`
    default:
      return `surcharge ${row.on}`
  }
}

const valueOf = (row: TableRow): string => {
  const { row: kind, service: _service, from: _from, zone: _zone, month: _month, on: _on, weight, ...rest } = row
  const values = Object.entries(rest)
    .filter(([, value]) => value !== '')
    .map(([name, value]) => (name === 'price' || name === 'percent' ? value : `${name} ${value}`))
  return [kind === 'step' && weight ? `each ${weight}` : '', ...values].filter(Boolean).join(', ')
}

function kindOf(before: string, after: string): TariffDifference['kind'] {
  if (before === '') return 'added'
  return after === '' ? 'removed' : 'changed'
}
