/** @jest-environment jsdom */
import type { z } from 'zod'
import { amountField, countField, lengthField, orEmpty, timeField, weightField } from './typedFields'

/** What a field makes of a text, or what it says is wrong. */
function read<T>(field: z.ZodType<T, string>, text: string): T | string {
  const said = field.safeParse(text)
  return said.success ? said.data : said.error.issues.map(({ message }) => message).join('; ')
}

test.each([
  [weightField('31.5 kg', 'kg'), '2.5', 2500],
  [weightField('31.5 kg', 'kg'), ' heavy ', '“heavy” is no weight such as 31.5 kg.'],
  [weightField('31.5 kg', 'kg'), '0', '“0” is no weight such as 31.5 kg.'],
  [weightField('120 g', 'g', 0), '0', 0],
  [lengthField('60 cm'), '60', 600],
  [lengthField('60 cm'), '-1', '“-1” is no length such as 60 cm.'],
  [amountField(), '12.5', 1250],
  [amountField(), '-1', '“-1” is no amount such as 500.00.'],
  [countField('parcels'), ' 12 ', 12],
  [countField('parcels'), '1.5', '“1.5” is no number of parcels.'],
  [countField('parcels'), '0', '“0” is no number of parcels.'],
  [timeField, '23:59', '23:59'],
  [timeField, '24:00', 'A time such as 16:30.'],
])('%#: “%s” is %s', (field, text, becomes) => expect(read<unknown>(field, text)).toBe(becomes))

test('an empty field is what it stands for; what is typed into it is read', () => {
  const field = orEmpty(countField('days'), null)
  expect(field.parse('  ')).toBeNull()
  expect(field.parse('3')).toBe(3)
  expect(field.safeParse('three').success).toBe(false)
})
