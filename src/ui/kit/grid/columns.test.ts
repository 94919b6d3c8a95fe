import fc from 'fast-check'
import { chosenColumns, usualColumns, fitting, type GridColumn, templateOf } from './columns'

const column = (id: string, min: number, gives: number): GridColumn<object> => ({
  id,
  name: id,
  min,
  gives,
  cell: () => null,
})

test('the least important columns give way, those to the right first', () => {
  const all = [column('state', 130, 0), column('placed', 100, 2), column('buyer', 100, 0), column('weight', 70, 2)]
  const ids = (width: number): string =>
    fitting(all, width)
      .map(({ id }) => id)
      .join(' ')
  expect(ids(400)).toBe('state placed buyer weight')
  expect(ids(399)).toBe('state placed buyer')
  expect(ids(329)).toBe('state buyer')
  expect(ids(10)).toBe('state buyer')
  expect(templateOf([column('a', 50, 0), { ...column('b', 60, 0), share: 2 }])).toBe('50px minmax(60px, 2fr)')
})

test('what is shown fits, or is only what always stays; and no room is left for what went last', () => {
  const columns = fc.array(fc.record({ min: fc.integer({ min: 20, max: 200 }), gives: fc.integer({ min: 0, max: 4 }) }))
  fc.assert(
    fc.property(columns, fc.integer({ min: 0, max: 2000 }), (list, width) => {
      const all = list.map(({ min, gives }, i) => column(String(i), min, gives))
      const shown = fitting(all, width)
      const sum = shown.reduce((total, { min }) => total + min, 0)
      expect(sum <= width || shown.every(({ gives }) => gives === 0)).toBe(true)
      const gone = all.filter((one) => !shown.includes(one))
      // Whoever went is at least as little important as whoever stays.
      for (const one of gone) for (const other of shown) expect(one.gives).toBeGreaterThanOrEqual(other.gives)
      expect(shown).toEqual(all.filter((one) => shown.includes(one)))
    }),
  )
})

test('columns as they are chosen: hidden, in another order, sized; new ones come at the end', () => {
  const all = ['a', 'b', 'c', 'd'].map((id) => ({ ...column(id, 50, 0), share: 1 }))
  const ids = (choice: object) => chosenColumns(all, { ...usualColumns, ...choice }).map(({ id }) => id)
  expect(ids({})).toEqual(['a', 'b', 'c', 'd'])
  expect(ids({ hidden: ['b'], order: ['c', 'a', 'gone'] })).toEqual(['c', 'a', 'd'])
  expect(
    chosenColumns(all, { ...usualColumns, sizes: { a: 120, b: 3 } }).map(({ min, share }) => [min, share]),
  ).toEqual([
    [120, undefined],
    [48, undefined],
    [50, 1],
    [50, 1],
  ])
})
