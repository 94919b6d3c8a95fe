import { z } from 'zod'
import './plainErrors'

const said = (schema: z.ZodType, value: unknown): string => schema.safeParse(value).error!.issues.map((issue) => issue.message).join('; ')

test.each<[z.ZodType, unknown, string]>([
  [z.string(), undefined, 'is missing'],
  [z.string(), 3, 'must be a text'],
  [z.int(), 1.5, 'must be a whole number'],
  [z.array(z.string()), 'x', 'must be a list'],
  [z.enum(['triage', 'packing']), 'nowhere', 'must be one of triage, packing'],
  [z.literal('DAP'), 'x', 'must be DAP'],
  [z.string().min(1), '', 'must not be empty'],
  [z.string().max(3), 'four', 'must have at most 3 characters'],
  [z.number().min(2), 1, 'must be 2 or more'],
  [z.number().positive(), 0, 'must be more than 0'],
  [z.number().max(9), 10, 'must be 9 or less'],
  [z.array(z.string()).min(1), [], 'must have at least 1'],
  [z.strictObject({ a: z.string() }), { a: 'x', b: 1 }, 'has parts that are not known: b'],
  [z.string().min(1, 'Give it a name'), '', 'Give it a name'],
])('%#: what is refused is said in plain words', (schema, value, words) => {
  expect(said(schema, value)).toBe(words)
})
