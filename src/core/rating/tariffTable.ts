import { isDay } from '@/core/calendar'
import {
  ambiguity,
  money,
  parseAmount,
  parseLength,
  parseWeight,
  plainAmount,
  plainLength,
  plainWeight,
  usualHome,
  grams,
  type Grams,
  type Millimetres,
  type MinorUnits,
} from '@/core/units'
import { type Surcharge, type SurchargeKind, surchargeKinds, type Tariff, type ZonePrice } from './tariff'

/*
 * Tariffs as one flat table, the same in CSV and in a spreadsheet: each row says in its first column what it is.
 *   tariff     the head: service, from, until, currency, basis, divisor, round up to, discount
 *   price      zone, weight (up to), price        step      zone, weight (each started), price
 *   shipment   zone, price (once a shipment)      minimum   zone, price
 *   surcharge  on, each, price, percent, per 100, over, zones, areas, classes, valid from, valid until
 *   month      on, month, percent (fuel)
 */
export const tariffColumns = [
  'row',
  'service',
  'from',
  'until',
  'currency',
  'basis',
  'divisor',
  'round up to',
  'discount',
  'zone',
  'weight',
  'price',
  'on',
  'each',
  'percent',
  'per 100',
  'over',
  'month',
  'zones',
  'areas',
  'classes',
  'valid from',
  'valid until',
] as const
export type TariffColumn = (typeof tariffColumns)[number]
export type TableRow = Readonly<Partial<Record<TariffColumn, string>>>

/** A row that cannot be read: where, and what to do. */
export interface TableProblem {
  readonly line: number
  readonly column: string
  readonly sentence: string
}

const decimal = (minor: number, currency: string): string => plainAmount(money(minor, currency))
const percent = (permille: number): string => `${String(permille / 10)} %`

/** Tariffs as rows of text, in a stable order. */
export function writeTariffTable(tariffs: readonly Tariff[]): TableRow[] {
  return tariffs.flatMap((tariff): TableRow[] => {
    const { service, from, currency } = tariff
    const own = (row: string, more: TableRow): TableRow => ({ row, service, from, ...more })
    return [
      own('tariff', {
        until: tariff.until ?? '',
        currency,
        basis: tariff.basis,
        divisor: tariff.dimensionalDivisor === null ? '' : String(tariff.dimensionalDivisor),
        'round up to': plainWeight(tariff.roundUpTo),
        discount: percent(tariff.discountPermille),
      }),
      ...Object.entries(tariff.zones).flatMap(([zone, { bands, step, perShipment, minimum }]) => [
        ...bands.map((band) =>
          own('price', { zone, weight: plainWeight(band.upTo), price: decimal(band.price, currency) }),
        ),
        ...(step ? [own('step', { zone, weight: plainWeight(step.every), price: decimal(step.price, currency) })] : []),
        ...(perShipment === undefined ? [] : [own('shipment', { zone, price: decimal(perShipment, currency) })]),
        ...(minimum === undefined ? [] : [own('minimum', { zone, price: decimal(minimum, currency) })]),
      ]),
      ...tariff.surcharges.flatMap((surcharge) => surchargeRows(surcharge, currency).map((row) => own(row.row!, row))),
    ]
  })
}

function surchargeRows(surcharge: Surcharge, currency: string): TableRow[] {
  const { on, over } = surcharge
  const row: TableRow = {
    row: 'surcharge',
    on,
    each: surcharge.each,
    ...(surcharge.amount === undefined ? {} : { price: decimal(surcharge.amount, currency) }),
    ...(surcharge.permille === undefined ? {} : { percent: percent(surcharge.permille) }),
    ...(surcharge.perHundred === undefined ? {} : { 'per 100': decimal(surcharge.perHundred, currency) }),
    ...(over === undefined ? {} : { over: on === 'heavy' ? plainWeight(over) : plainLength(over) }),
    ...(surcharge.zones ? { zones: surcharge.zones.join(' ') } : {}),
    ...(surcharge.areas
      ? { areas: surcharge.areas.map(({ country, prefixes }) => `${country} ${prefixes.join(' ')}`).join('; ') }
      : {}),
    ...(surcharge.classes ? { classes: surcharge.classes.join('; ') } : {}),
    ...(surcharge.from ? { 'valid from': surcharge.from } : {}),
    ...(surcharge.until ? { 'valid until': surcharge.until } : {}),
  }
  return [
    row,
    ...Object.entries(surcharge.months ?? {})
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([month, permille]): TableRow => ({ row: 'month', on, month, percent: percent(permille) })),
  ]
}

type Draft = Omit<Tariff, 'surcharges'> & { readonly surcharges: Surcharge[] }
type DraftZone = { -readonly [K in keyof ZonePrice]: ZonePrice[K] }

/**
 * Reads tariffs from rows (`line` is the row's own line in the file). Nothing is guessed: each cell that makes no sense
 * is named with its line and column, and a row before its tariff's head too. A tariff that names no currency is in that
 * of `home`.
 */
export function readTariffTable(
  rows: readonly { readonly line: number; readonly cells: TableRow }[],
  home = usualHome,
): {
  readonly tariffs: readonly Tariff[]
  readonly problems: readonly TableProblem[]
} {
  const problems: TableProblem[] = []
  const drafts = new Map<string, Draft>()
  for (const { line, cells } of rows) new RowReader(line, cells, problems, home).into(drafts)
  return { tariffs: [...drafts.values()], problems }
}

/** One row being read; a cell that cannot be read leaves a problem and gives nothing. */
class RowReader {
  constructor(
    private readonly line: number,
    private readonly cells: TableRow,
    private readonly problems: TableProblem[],
    private readonly home: string,
  ) {}

  into(drafts: Map<string, Draft>): void {
    const kind = this.text('row').toLowerCase()
    const service = this.needed('service')
    const from = this.day('from', true)
    if (service === undefined || from === undefined) return
    const key = `${service} ${from}`
    if (kind === 'tariff') return this.head(drafts, key, service, from)
    const draft = drafts.get(key)
    if (!draft) return this.wrong('row', `There is no row "tariff" for ${service} from ${from} above this one.`)
    switch (kind) {
      case 'price':
      case 'step':
      case 'shipment':
      case 'minimum':
        return this.zone(kind, draft)
      case 'surcharge':
        return this.surcharge(draft)
      case 'month':
        return this.month(draft)
      default:
        this.wrong(
          'row',
          `"${this.text('row')}" is no kind of row: write tariff, price, step, shipment, minimum, surcharge or month.`,
        )
    }
  }

  private head(drafts: Map<string, Draft>, key: string, service: string, from: string): void {
    if (drafts.has(key)) return this.wrong('row', `${service} from ${from} has its row "tariff" already.`)
    const currency = this.text('currency').toUpperCase() || this.home
    if (!/^[A-Z]{3}$/.test(currency))
      this.wrong('currency', `"${this.text('currency')}" is no currency code such as EUR.`)
    const basis = this.text('basis') || 'parcel'
    if (basis !== 'parcel' && basis !== 'shipment') this.wrong('basis', `"${basis}" is neither parcel nor shipment.`)
    const divisor = this.text('divisor')
    if (divisor !== '' && !(Number(divisor) > 0))
      this.wrong('divisor', `"${divisor}" is no number above 0; leave it empty when only the scales count.`)
    drafts.set(key, {
      service,
      from,
      until: this.day('until', false) ?? null,
      currency,
      basis: basis === 'shipment' ? 'shipment' : 'parcel',
      dimensionalDivisor: divisor === '' ? null : Number(divisor),
      roundUpTo: this.weight('round up to') ?? grams(1),
      discountPermille: this.permille('discount') ?? 0,
      zones: {},
      surcharges: [],
    })
  }

  private zone(kind: 'price' | 'step' | 'shipment' | 'minimum', draft: Draft): void {
    const name = this.needed('zone')
    const price = this.amount('price', draft.currency, true)
    if (name === undefined || price === undefined) return
    const zones = draft.zones as Record<string, DraftZone>
    const zone = (zones[name] ??= { bands: [] })
    if (kind === 'shipment') zone.perShipment = price
    else if (kind === 'minimum') zone.minimum = price
    else {
      const weight = this.weight('weight', true)
      if (weight === undefined) return
      if (kind === 'step') zone.step = { every: weight, price }
      else zone.bands = [...zone.bands, { upTo: weight, price }]
    }
  }

  private surcharge(draft: Draft): void {
    const on = this.text('on') as SurchargeKind
    if (!surchargeKinds.includes(on))
      return this.wrong('on', `"${on}" is no surcharge: write one of ${surchargeKinds.join(', ')}.`)
    const each = this.text('each') || 'shipment'
    if (each !== 'parcel' && each !== 'shipment') this.wrong('each', `"${each}" is neither parcel nor shipment.`)
    const over = this.text('over') === '' ? undefined : this.over(on === 'heavy')
    const areas = this.text('areas')
      .split(';')
      .map((part) => part.trim().split(/\s+/))
      .filter((part) => part[0] !== '')
    const bad = areas.find(([country, ...prefixes]) => !/^[A-Z]{2}$/.test(country!) || prefixes.length === 0)
    if (bad)
      this.wrong(
        'areas',
        `"${bad.join(' ')}" is no area: write a country code and postcode beginnings, such as FR 20; DE 2594 2684.`,
      )
    const list = (column: TariffColumn, by: RegExp): readonly string[] | undefined =>
      this.text(column) === ''
        ? undefined
        : this.text(column)
            .split(by)
            .map((part) => part.trim())
            .filter(Boolean)
    const surcharge: Surcharge = {
      on,
      each: each === 'parcel' ? 'parcel' : 'shipment',
      ...defined({
        amount: this.signed('price', draft.currency),
        permille: this.permille('percent'),
        perHundred: this.signed('per 100', draft.currency),
        over,
        zones: list('zones', /\s+/),
        areas:
          areas.length === 0 ? undefined : areas.map(([country, ...prefixes]) => ({ country: country!, prefixes })),
        classes: list('classes', /;/),
        from: this.day('valid from', false),
        until: this.day('valid until', false),
      }),
    }
    draft.surcharges.push(surcharge)
  }

  private month(draft: Draft): void {
    const on = this.text('on')
    const month = this.text('month')
    const at = draft.surcharges.map((surcharge) => surcharge.on as string).lastIndexOf(on)
    const permille = this.permille('percent')
    if (at < 0) return this.wrong('on', `There is no row "surcharge" for ${on || 'this'} above this one.`)
    if (!/^\d{4}-(0[1-9]|1[0-2])$/.test(month)) return this.wrong('month', `"${month}" is no month such as 2026-11.`)
    if (permille === undefined) return this.wrong('percent', 'A month needs its percentage, such as 8.5 %.')
    const surcharge = draft.surcharges[at]!
    draft.surcharges[at] = { ...surcharge, months: { ...surcharge.months, [month]: permille } }
  }

  private wrong(column: string, sentence: string): void {
    this.problems.push({ line: this.line, column, sentence })
  }
  private text(column: TariffColumn): string {
    return (this.cells[column] ?? '').normalize('NFKC').trim()
  }
  private needed(column: TariffColumn): string | undefined {
    const text = this.text(column)
    if (text === '') this.wrong(column, `The ${column} is missing.`)
    return text || undefined
  }
  private day(column: TariffColumn, needed: boolean): string | undefined {
    const text = this.text(column)
    if (text === '' && !needed) return undefined
    if (isDay(text)) return text
    this.wrong(column, `"${text}" is no day such as 2026-01-31.`)
    return undefined
  }
  private weight(column: TariffColumn, needed = false): Grams | undefined {
    return this.read(
      column,
      needed,
      (text) => {
        const weight = parseWeight(text, 'kg')
        return weight !== null && weight > 0 ? weight : null
      },
      'weight such as 2 kg',
    )
  }
  /** Above what a surcharge is due: above nothing, always. */
  private over(weighed: boolean): Grams | Millimetres | undefined {
    return this.read(
      'over',
      true,
      (text) => {
        const over = weighed ? parseWeight(text, 'kg') : parseLength(text, 'cm')
        return over !== null && over >= 0 ? over : null
      },
      weighed ? 'weight such as 20 kg' : 'length such as 120 cm',
    )
  }
  private amount(column: TariffColumn, currency: string, needed = false): MinorUnits | undefined {
    const minor = this.signed(column, currency, needed)
    if (minor === undefined || minor >= 0) return minor
    this.wrong(column, `"${this.text(column)}" is negative; a discount has its own column.`)
    return undefined
  }
  /** An amount that may be negative: a surcharge can be a rebate. */
  private signed(column: TariffColumn, currency: string, needed = false): MinorUnits | undefined {
    return this.read(
      column,
      needed,
      (text) => parseAmount(text, currency),
      `amount of ${currency} such as ${plainAmount(money(490, currency))}`,
    )
  }
  private permille(column: TariffColumn): number | undefined {
    return this.read(
      column,
      false,
      (text) => {
        const match = /^(-?\d+(?:[.,]\d+)?)\s*%?$/.exec(text)
        const value = match ? Math.round(Number(match[1]!.replace(',', '.')) * 10) : null
        return value !== null && Math.abs(value) <= 5000 ? value : null
      },
      'percentage such as 8.5 %',
    )
  }
  private read<N extends number>(
    column: TariffColumn,
    needed: boolean,
    reader: (text: string) => N | null,
    what: string,
  ): N | undefined {
    const text = this.text(column)
    if (text === '') {
      if (needed) this.wrong(column, `The ${column} is missing.`)
      return undefined
    }
    const value = reader(text)
    if (value === null) this.wrong(column, ambiguity(text) ?? `"${text}" is no ${what}.`)
    return value ?? undefined
  }
}

const defined = <T extends object>(values: T): Partial<{ [K in keyof T]: Exclude<T[K], undefined> }> =>
  Object.fromEntries(Object.entries(values).filter(([, value]) => value !== undefined)) as Partial<{
    [K in keyof T]: Exclude<T[K], undefined>
  }>
