import { z } from 'zod'

/** How many of a list come before those that are asked for. */
export const skip = z.coerce.number().int().min(0).max(10_000_000).default(0)
