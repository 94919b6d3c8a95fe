import { readSheet } from '@/adapters'
import { readZoneTable, zoneColumns, type ZoneRow, writeZoneTable } from '@/core/rating'
import { refuse, type Answer } from '../shared/application'

/** The zones of a file, as rows to look at and save; nothing is kept yet. */
export interface ZoneFile {
  readonly ok: true
  readonly rows: readonly ZoneRow[]
}

/** Reads a table of zones, CSV or XLSX. */
export async function readZoneFile(content: Buffer): Promise<Answer<ZoneFile>> {
  const sheet = await readSheet(content, zoneColumns, ['zone', 'from', 'to', 'days'])
  if (!sheet.ok) return refuse('bad-file', sheet.sentence)
  const { zones, problems } = readZoneTable(sheet.rows)
  const [problem] = problems
  if (problem) return refuse('bad-table', `Line ${problem.line}, ${problem.column}: ${problem.sentence}`)
  if (zones.length === 0)
    return refuse('empty-file', 'The file has no zone: one row for each way from a country to others.')
  return { ok: true, rows: writeZoneTable(zones) }
}
