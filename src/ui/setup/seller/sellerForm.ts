import { z } from 'zod'
import { unitSystems } from '@/core/units'
import { papers } from '@/core/world'
import type { SellerSettings } from '@/usecases/setup/seller'
import { notation } from '../../kit/locale'
import { isCurrency, typedNumber } from '../../kit/read'

const micro = 1_000_000

/** The seller's settings as they are typed, read into their values. */
export const sellerForm = z.object({
  name: z.string().trim().max(120, 'At most 120 characters.'),
  mail: z.union([z.literal(''), z.email('An e-mail address such as hello@shop.example.')]),
  home: z.string().trim().toUpperCase().refine(isCurrency, 'A currency code such as EUR.'),
  units: z.enum(unitSystems),
  paper: z.enum(papers),
  gs1Prefix: z
    .string()
    .trim()
    .regex(/^(?:\d{4,12})?$/, '4 to 12 digits, or nothing.'),
  rates: z.array(z.record(z.string(), z.string())).transform((rows, context): Record<string, number> => {
    const rates: Record<string, number> = {}
    rows.forEach((row, i) => {
      const wrong = wrongRate(row)
      if (wrong !== undefined) context.addIssue({ code: 'custom', message: `Row ${i + 1}: ${wrong}` })
      else rates[codeOf(row)] = Math.round(typedNumber(row.rate ?? '')! * micro)
    })
    return rates
  }),
})
export type SellerForm = z.input<typeof sellerForm>
export type SellerValues = z.output<typeof sellerForm>

const codeOf = (row: Readonly<Record<string, string>>): string => (row.currency ?? '').trim().toUpperCase()

/** What is wrong with a row of exchange rates; undefined when nothing is. */
export function wrongRate(row: Readonly<Record<string, string>>): string | undefined {
  if (!isCurrency(codeOf(row))) return `“${row.currency ?? ''}” is no currency code such as GBP.`
  const rate = typedNumber(row.rate ?? '')
  return rate !== undefined && rate * micro >= 1 && rate < micro
    ? undefined
    : `“${row.rate ?? ''}” is no rate such as 1.1635.`
}

export const sellerFormOf = ({ seller, home, micro: rates }: SellerSettings): SellerForm => ({
  ...{ name: seller.name, mail: seller.mail, home, units: seller.units, paper: seller.paper },
  gs1Prefix: seller.gs1Prefix ?? '',
  rates: Object.entries(rates).map(([currency, millionths]) => ({
    currency,
    rate: String(millionths / micro).replace('.', notation().decimal),
  })),
})

export const withSellerValues = ({
  name,
  mail,
  home,
  units,
  paper,
  gs1Prefix,
  rates,
}: SellerValues): SellerSettings => ({
  seller: { name, mail, units, paper, ...(gs1Prefix === '' ? {} : { gs1Prefix }) },
  home,
  micro: rates,
})
