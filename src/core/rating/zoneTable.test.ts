import fc from 'fast-check'
import { type Zone, readZoneTable, writeZoneTable, type ZoneRow } from '.'

const row = (more: Partial<ZoneRow>): Partial<ZoneRow> => ({ zone: 'R1', from: 'BE', to: 'NL', days: '1', ...more })
const read = (...rows: Partial<ZoneRow>[]) => readZoneTable(rows.map((cells, i) => ({ line: i + 1, cells })))

test('a row names several countries, by code or name', () => {
  expect(read(row({ to: 'NL, de;fr' }), row({ from: 'Belgium', to: 'Luxembourg', days: '2' })).zones).toEqual([
    ...['NL', 'DE', 'FR'].map((to) => ({ zone: 'R1', from: 'BE', to, transitDays: 1 })),
    { zone: 'R1', from: 'BE', to: 'LU', transitDays: 2 },
  ])
})

test('postcodes are what they begin with', () => {
  expect(read(row({ to: 'NL', postcodes: '10*, 11' })).zones[0]).toMatchObject({ prefixes: ['10', '11'] })
})

test.each<[Partial<ZoneRow>, string, RegExp]>([
  [{ zone: '' }, 'zone', /name/],
  [{ from: 'Atlantis' }, 'from', /“Atlantis” is no country/],
  [{ from: '' }, 'from', /Say a country/],
  [{ to: 'NL XX' }, 'to', /“XX” is no country/],
  [{ to: '' }, 'to', /Say a country/],
  [{ days: '' }, 'days', /number of working days/],
  [{ days: '-1' }, 'days', /number of working days/],
  [{ days: '61' }, 'days', /number of working days/],
  [{ days: '1.5' }, 'days', /number of working days/],
  [{ to: 'NL DE', postcodes: '10' }, 'postcodes', /one country/],
])('%j is refused at %s', (cells, column, sentence) => {
  expect(read(row(cells)).problems).toMatchObject([
    { line: 1, column, sentence: expect.stringMatching(sentence) as string },
  ])
})

test('the same way twice is refused, and empty rows are no rows', () => {
  expect(read(row({}), {}, row({ days: '2' })).problems).toMatchObject([{ line: 3, column: 'to' }])
})

test('what is written is read back', () => {
  const zone = fc.record({
    zone: fc.constantFrom('R1', 'R2', 'Inner city'),
    from: fc.constantFrom('BE', 'PL'),
    to: fc.constantFrom('NL', 'DE', 'FR', 'GB'),
    prefixes: fc.constantFrom<readonly string[] | undefined>(undefined, ['10'], ['10', '11']),
    transitDays: fc.integer({ min: 0, max: 60 }),
  })
  const way = ({
    from,
    to,
    prefixes,
  }: {
    from: string
    to: string
    prefixes?: readonly string[] | undefined
  }): string => JSON.stringify([from, to, prefixes])
  fc.assert(
    fc.property(fc.uniqueArray(zone, { selector: way, maxLength: 12 }), (made) => {
      const zones = made.map(({ prefixes, ...rest }): Zone => ({ ...rest, ...(prefixes ? { prefixes } : {}) }))
      const { zones: again, problems } = read(...writeZoneTable(zones))
      expect(problems).toEqual([])
      const sorted = (list: readonly Zone[]): Zone[] => [...list].sort((a, b) => (way(a) < way(b) ? -1 : 1))
      expect(sorted(again)).toEqual(sorted(zones))
    }),
  )
})
