import { countryCode } from '@/core/order'
import type { TableProblem } from './tariffTable'
import type { Zone } from './tariff'

/*
 * Where a service goes, as a flat table, the same on the screen, in CSV and in a spreadsheet: zone, from, to,
 * postcodes, days. One row may name several countries to go to; postcodes are what they begin with.
 */
export const zoneColumns = ['zone', 'from', 'to', 'postcodes', 'days'] as const
export type ZoneColumn = (typeof zoneColumns)[number]
export type ZoneRow = Readonly<Record<ZoneColumn, string>>

const wordsOf = (text: string): string[] => text.split(/[\s,;]+/).filter(Boolean)

/** Zones as rows of text; countries that are alike share a row. */
export function writeZoneTable(zones: readonly Zone[]): ZoneRow[] {
  const rows = new Map<string, { readonly row: Omit<ZoneRow, 'to'>; readonly to: string[] }>()
  for (const { zone, from, to, prefixes, transitDays } of zones) {
    const row = { zone, from, postcodes: (prefixes ?? []).join(' '), days: String(transitDays) }
    // Postcodes are those of one country.
    const key = JSON.stringify([row, prefixes ? to : ''])
    const known = rows.get(key)
    if (known) known.to.push(to)
    else rows.set(key, { row, to: [to] })
  }
  return [...rows.values()].map(({ row, to }) => ({ ...row, to: to.join(' ') }))
}

/** Reads zones from rows; each cell that makes no sense is named with its line and column. Empty rows are left out. */
export function readZoneTable(rows: readonly { readonly line: number; readonly cells: Partial<ZoneRow> }[]): {
  readonly zones: Zone[]
  readonly problems: TableProblem[]
} {
  const zones: Zone[] = []
  const problems: TableProblem[] = []
  const taken = new Set<string>()
  for (const { line, cells } of rows) {
    const cell = (column: ZoneColumn): string => (cells[column] ?? '').trim()
    if (zoneColumns.every((column) => cell(column) === '')) continue
    const before = problems.length
    const say = (column: ZoneColumn, sentence: string): void => void problems.push({ line, column, sentence })
    const countryIn = (column: 'from' | 'to', text: string): string => {
      const code = countryCode(text)
      if (!code)
        say(column, text === '' ? 'Say a country, such as BE.' : `“${text}” is no country: write a code such as BE.`)
      return code ?? ''
    }
    const zone = cell('zone')
    if (zone === '' || zone.length > 64) say('zone', 'Give the zone a name, such as R1.')
    const from = countryIn('from', cell('from'))
    const ends = countryCode(cell('to')) ? [cell('to')] : wordsOf(cell('to'))
    const to = (ends.length === 0 ? [''] : ends).map((text) => countryIn('to', text))
    const prefixes = wordsOf(cell('postcodes')).map((prefix) => prefix.replace(/\*$/, ''))
    if (prefixes.length > 0 && to.length > 1)
      say('postcodes', 'Postcodes are those of one country: give it a row of its own.')
    const days = /^\d{1,2}$/.test(cell('days')) ? Number(cell('days')) : NaN
    if (!(days <= 60)) say('days', `“${cell('days')}” is no number of working days from 0 to 60.`)
    for (const end of to) {
      const key = JSON.stringify([from, end, prefixes])
      if (taken.has(key))
        say('to', `There is a row from ${from} to ${end}${prefixes.length > 0 ? ' with these postcodes' : ''} already.`)
      taken.add(key)
    }
    if (problems.length > before) continue
    for (const end of to)
      zones.push({ zone, from, to: end, ...(prefixes.length > 0 ? { prefixes } : {}), transitDays: days })
  }
  return { zones, problems }
}
