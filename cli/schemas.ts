import { writeFileSync } from 'node:fs'
import { z } from 'zod'
import { orderSchema } from '@/core/order'
import { rulebookSchema } from '@/core/rulebook/language'
import { worldSchema } from '@/core/world'
import { catalogueText } from './catalogueText'

/**
 * The JSON Schemas of docs/schema, made from the schemas that the code itself checks with. `npm run schemas` writes
 * them, and the catalogue of facts and decisions.
 */
export const schemas: Readonly<Record<string, unknown>> = {
  'rulebook.schema.json': {
    title: 'A rulebook of Gharry (JSON form)',
    ...z.toJSONSchema(rulebookSchema, { unrepresentable: 'any' }),
  },
  'world.schema.json': {
    title: 'The world that a rulebook looks at',
    ...z.toJSONSchema(worldSchema, { unrepresentable: 'any' }),
  },
  'order.schema.json': {
    title: 'One order, a line of orders.jsonl',
    ...z.toJSONSchema(orderSchema, { unrepresentable: 'any' }),
  },
}

export const schemaText = (schema: unknown): string => `${JSON.stringify(schema, null, 2)}\n`

if (process.argv.includes('--write')) {
  for (const [name, schema] of Object.entries(schemas)) writeFileSync(`docs/schema/${name}`, schemaText(schema))
  writeFileSync('docs/catalogue.md', catalogueText())
}
