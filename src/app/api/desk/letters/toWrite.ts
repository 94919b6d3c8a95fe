import { z } from 'zod'
import { questions } from '@/core/telling'
import type { ToWrite } from '@/usecases/desk/writeToBuyers'

/** A subject and a text with placeholders; a subject is one line. */
export const letterText = z.strictObject({
  subject: z
    .string()
    .max(200, 'A subject has at most 200 characters.')
    .regex(/^[^\n\r\u2028\u2029]*$/, 'A subject is one line.'),
  body: z.string().max(10_000, 'A letter has at most 10,000 characters.'),
})

export const toWrite = z.strictObject({
  orders: z.array(z.number().int()).max(20_000),
  question: z.enum(questions.map(({ id }) => id)).nullable(),
  text: letterText,
  hold: z.boolean(),
}) satisfies z.ZodType<ToWrite>
