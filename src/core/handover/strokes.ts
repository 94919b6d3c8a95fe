import { z } from 'zod'

/**
 * A signature: strokes of points, each x from 0 to 1000 and y from 0 to 300 of the field that was signed in, flat: x,
 * y, x, y …
 */
export type Strokes = readonly (readonly number[])[]

const coordinate = z.number().int().min(0).max(1000)
/** A signature as it comes from a screen, checked. */
export const strokesSchema = z
  .array(
    z
      .array(coordinate)
      .max(4000)
      .refine((flat) => flat.length % 2 === 0, 'is half a point'),
  )
  .max(200)
