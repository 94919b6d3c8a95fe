import { csvFile, xlsxFile } from '@/adapters'
import { money, plainAmount } from '@/core/units'
import { addAudit, type DeskFilter, deskPage, type DeskSort, mostListed, type OrderRow } from '@/data'
import type { Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { deskNames, type DeskNames } from './showDesk'

/** The columns of the Desk as a file has them: names, and values that programs read. */
const columns: Readonly<
  Record<string, readonly [name: string, value: (row: OrderRow, names: DeskNames, home: string) => string]>
> = {
  state: ['state', ({ state }) => state],
  number: ['order', ({ number }) => number],
  channel: ['channel', ({ channelId }, names) => nameIn(names.channels, channelId)],
  placed: ['placed at', ({ placedAt }) => placedAt],
  promised: ['promised by', ({ promisedBy }) => promisedBy],
  buyer: ['buyer', ({ buyer }) => buyer],
  country: ['country', ({ country }) => country],
  city: ['town', ({ city }) => city],
  quantity: ['pieces', ({ quantity }) => String(quantity)],
  value: ['value', ({ value }, _, home) => amountIn(value, home)],
  weight: ['weight g', ({ weight }) => (weight === null ? '' : String(weight))],
  preset: ['package', ({ preset }, names) => nameIn(names.presets, preset)],
  location: ['location', ({ location }, names) => nameIn(names.locations, location)],
  service: ['service', ({ service }, names) => nameIn(names.services, service)],
  cost: ['label', ({ cost }, _, home) => amountIn(cost, home)],
  arrives: ['arrives on', ({ arrivesOn }) => arrivesOn ?? ''],
  late: ['days late', ({ daysLate }) => (daysLate !== null && daysLate > 0 ? String(daysLate) : '')],
  wording: ['wording', ({ wording }) => wording],
  note: ['blocker, or tags', (row) => row.flag ?? row.report ?? row.problem ?? row.hold ?? row.tags],
}
/** The town is part of the column of countries, and lateness of that of arrivals. */
const together: Readonly<Record<string, readonly string[]>> = {
  country: ['country', 'city'],
  arrives: ['arrives', 'late'],
}

const nameIn = (names: Readonly<Record<string, string>>, id: string | null): string =>
  id === null ? '' : (names[id] ?? id)
const amountIn = (minor: number | null, home: string): string => (minor === null ? '' : plainAmount(money(minor, home)))

/**
 * What the Desk shows as a file: its filters, its sequence, its columns; amounts in the home currency. Null when it is
 * empty.
 */
export async function exportDesk(
  gharry: Application,
  format: 'csv' | 'xlsx',
  given: { readonly filter: DeskFilter; readonly sorts: readonly DeskSort[]; readonly columns: readonly string[] },
): Promise<Buffer | null> {
  const rows = await deskPage(gharry.db, given.filter, given.sorts, 0, mostListed)
  if (rows.length === 0) return null
  const names = await deskNames(gharry)
  const { world } = await currentWorld(gharry.db)
  const wanted = given.columns.length > 0 ? given.columns : Object.keys(columns)
  const shown = [...new Set(wanted.flatMap((id) => together[id] ?? [id]))].flatMap((id) => {
    const column = columns[id]
    return column ? [column] : []
  })
  const table = rows.map((row) =>
    Object.fromEntries(shown.map(([name, value]) => [name, value(row, names, world.rates.home)])),
  )
  const heads = shown.map(([name]) => name)
  await addAudit(
    gharry.db,
    { action: 'orders taken away as a file', about: `${rows.length} orders`, after: { columns: heads } },
    gharry.now().toISOString(),
  )
  return format === 'xlsx' ? xlsxFile('Orders', heads, table) : csvFile(heads, table)
}
