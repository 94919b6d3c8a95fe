import { knownNow, nothingChanged, overtakenCells, withCell, withoutCells } from './itemChanges'

const item = (weight: string) => ({ row: { sku: 'A', weight, title: 'Lamp' } })

test('what is typed back is no change; what a cell was when the typing began stays its measure', () => {
  const once = withCell(nothingChanged, item('1 kg'), 'weight', '2 kg')
  expect(once).toEqual({ A: { weight: { text: '2 kg', was: '1 kg' } } })
  expect(withCell(once, item('1 kg'), 'weight', '1 kg')).toEqual({})
  const again = withCell(once, item('1.5 kg'), 'weight', '3 kg')
  expect(again).toEqual({ A: { weight: { text: '3 kg', was: '1 kg' } } })
})

test('a cell that somebody else has changed is told, taken, or replaced knowingly', () => {
  const mine = withCell(withCell(nothingChanged, item('1 kg'), 'weight', '2 kg'), item('1 kg'), 'title', 'Light')
  expect(overtakenCells(mine, [item('1 kg')])).toEqual([])
  expect(overtakenCells(mine, [item('2 kg')])).toEqual([])
  const cells = overtakenCells(mine, [item('1.5 kg')])
  expect(cells).toEqual([{ sku: 'A', column: 'weight', text: '2 kg', now: '1.5 kg' }])
  expect(withoutCells(mine, cells)).toEqual({ A: { title: { text: 'Light', was: 'Lamp' } } })
  const known = knownNow(mine, cells)
  expect(overtakenCells(known, [item('1.5 kg')])).toEqual([])
  expect(overtakenCells(known, [item('1.7 kg')])).toHaveLength(1)
})
