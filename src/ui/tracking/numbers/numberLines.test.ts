import { numberLines } from './numberLines'

test.each([
  ['MG-1\tNX 7700\tNorthlight\nMG-2\tDL1', 'cells of a spreadsheet'],
  ['MG-1;NX 7700;Northlight\r\nMG-2;DL1\r\n\r\n', 'semicolons, empty lines'],
  ['\uFEFForder,tracking number,carrier\n"MG-1","NX 7700","Northlight"\nMG-2,DL1,', 'a file with names and quotes'],
])('%j: %s', (text) => {
  expect(numberLines(text)).toEqual([
    { order: 'MG-1', number: 'NX 7700', carrier: 'Northlight' },
    { order: 'MG-2', number: 'DL1', carrier: '' },
  ])
})

test('nothing gives nothing; a line without a number keeps its order, so that it can be said', () => {
  expect(numberLines('  \n ')).toEqual([])
  expect(numberLines('MG-1')).toEqual([{ order: 'MG-1', number: '', carrier: '' }])
})
