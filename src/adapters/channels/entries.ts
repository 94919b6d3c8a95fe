import { z } from 'zod'
import type { RawOrder } from '@/core/order'
import type { OrderPage } from './channel'

/** A text that may be missing or null. */
export const optionalText = z
  .string()
  .nullish()
  .transform((value) => value ?? undefined)

/** What is wrong first, with where. */
export const whyNot = ({ issues: [issue] }: z.ZodError): string =>
  `${issue?.path.join('.') || 'order'}: ${issue?.message ?? 'cannot be read'}`

/** The entries of a page as orders; those that make no sense come as text with the reason. */
export function readEntries<T>(
  entries: readonly unknown[],
  schema: z.ZodType<T>,
  rawOrder: (entry: T) => RawOrder,
): Pick<OrderPage, 'orders' | 'bad'> {
  const orders: RawOrder[] = []
  const bad: { row: string; reason: string }[] = []
  for (const entry of entries) {
    const parsed = schema.safeParse(entry)
    if (parsed.success) orders.push(rawOrder(parsed.data))
    else bad.push({ row: JSON.stringify(entry).slice(0, 300), reason: whyNot(parsed.error) })
  }
  return { orders, bad }
}
