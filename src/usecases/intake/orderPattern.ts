import { csvFile, fileFields, xlsxFile } from '@/adapters'
import type { Application } from '../shared/application'

const example: Readonly<Partial<Record<(typeof fileFields)[number]['id'], string>>> = {
  ...{ number: 'EXAMPLE-1', sku: 'SKU-1', quantity: '2', name: 'Noor Van Acker', street: 'Coupure Links 88' },
  ...{ city: 'Gent', country: 'BE', postcode: '9000', email: 'noor@vanacker.example', weight: '500 g' },
}

/** An order file to fill in: all columns under the names that are known by themselves, and one row as an example. */
export function orderPattern(_gharry: Application, format: 'csv' | 'xlsx'): Promise<Buffer> {
  const columns = fileFields.map(({ name }) => name)
  const row = Object.fromEntries(fileFields.map(({ id, name }) => [name, example[id] ?? '']))
  return format === 'csv' ? Promise.resolve(csvFile(columns, [row])) : xlsxFile('Orders', columns, [row])
}
