import { z } from 'zod'
import type { Address } from '@/core/order'
import { countryCodes } from '../../kit/countryName'
import { beginEdit } from '../../kit/useEdit'

/** The fields of an address; its street lines are one text. */
export const addressForm = z.object({
  name: z.string().trim().min(1, 'Who is it for?').max(200),
  company: z.string().trim().max(200),
  lines: z.string().trim().min(1, 'At least one line, with the street and the number.').max(1000),
  postcode: z.string().trim().max(200),
  city: z.string().trim().min(1, 'Which town?').max(200),
  region: z.string().trim().max(200),
  country: z
    .string()
    .trim()
    .toUpperCase()
    .refine((code) => countryCodes.includes(code), 'Two letters, such as BE or GB.'),
})
export type Form = z.infer<typeof addressForm>
export const formOf = ({ lines, ...rest }: Address): Form => ({ ...rest, lines: lines.join('\n') })
export const addressOf = ({ lines, ...rest }: Form): Address => ({
  ...rest,
  lines: lines
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean),
})
/** Where the half-done address of an order is kept. */
export const halfOf = (order: number): string => `address ${order}`

/** Opens the address of an order with other fields in it, to be looked at and taken. */
export const beginAddress = (order: number, address: Address): void => beginEdit(halfOf(order), formOf(address))
