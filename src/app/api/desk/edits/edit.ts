import { z } from 'zod'
import { decisionKinds } from '@/core/rulebook/language'
import { type Grams, schemaOf } from '@/core/units'
import type { ManyEdit } from '@/usecases/desk/manyEdit'

const decision = z.enum(decisionKinds.map(({ id }) => id))
const tags = z.array(z.string().trim().min(1).max(60)).max(20)

/** What is decided by hand for many orders; values are checked by their decision. */
const edit = z.discriminatedUnion('do', [
  z.strictObject({ do: z.literal('pin'), decision, value: z.unknown() }),
  z.strictObject({ do: z.literal('release'), decision }),
  z.strictObject({ do: z.literal('tag'), add: tags, remove: tags }),
  z.strictObject({ do: z.literal('weigh'), grams: schemaOf<Grams>(z.number()) }),
  z.strictObject({
    do: z.literal('each'),
    of: z.union([z.literal('weigh'), decision]),
    values: z.array(z.tuple([z.number().int(), z.unknown()])).max(5000),
  }),
])

export const manyEdit = z.strictObject({
  orders: z.array(z.number().int()).max(20_000),
  edits: z.array(edit).max(50),
}) satisfies z.ZodType<ManyEdit>
