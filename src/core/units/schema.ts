import type { z } from 'zod'

/** A schema for numbers that are grams, millimetres or minor units: checked as numbers, taken for what they are. */
export const schemaOf = <N extends number>(plain: z.ZodNumber): z.ZodType<N> => plain as unknown as z.ZodType<N>
