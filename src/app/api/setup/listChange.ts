import { z } from 'zod'
import { listNames } from '@/usecases/setup/lists'

const thing = z.record(z.string(), z.unknown()).nullable()

/** A change of one thing of a list, as it comes in; what it holds is for the use case to read. */
export const listChange = z
  .object({ list: z.enum(listNames), before: thing, after: thing })
  .refine(({ before, after }) => before !== null || after !== null, 'There is nothing to change.')
