import type { Address } from '@/core/order'
import type { TypedOrder } from '@/usecases/desk/typeOrder'
import { home } from '../../kit/locale'
import { typedAmount, typedSize, typedWeight } from '../../kit/read'

/** A line of goods as it is typed. */
export interface TypedLine {
  readonly what: string
  readonly quantity: string
  readonly weight: string
  readonly size: string
}
/** A typed order as its fields have it. */
export interface TypedForm {
  readonly name: string
  readonly company: string
  readonly lines: string
  readonly postcode: string
  readonly city: string
  readonly region: string
  readonly country: string
  readonly email: string
  readonly phone: string
  readonly number: string
  readonly wording: string
  readonly promisedBy: string
  readonly value: string
  readonly items: readonly TypedLine[]
}

export const noLine: TypedLine = { what: '', quantity: '1', weight: '', size: '' }
export const emptyForm: TypedForm = {
  ...{ name: '', company: '', lines: '', postcode: '', city: '', region: '', country: '' },
  ...{ email: '', phone: '', number: '', wording: '', promisedBy: '', value: '' },
  items: [noLine],
}

/** The fields of an address. */
export const addressFields = ({ lines, ...rest }: Address): Omit<Address, 'lines'> & { lines: string } => ({
  ...rest,
  lines: lines.join('\n'),
})

type Wrong = Readonly<Record<string, string>>

/** What the fields say, or which of them cannot be read. Whether a name is in the item list is the server's to say. */
export function readForm(form: TypedForm, key: string): { order: TypedOrder } | { wrong: Wrong } {
  const wrong: Record<string, string> = {}
  const lines = form.items.filter((line) => line !== noLine && Object.values({ ...line, quantity: '' }).some(Boolean))
  const items = lines.map((line, i) => {
    const quantity = /^\s*\d{1,4}\s*$/.test(line.quantity) ? Number(line.quantity) : NaN
    if (Number.isNaN(quantity)) wrong[`items.${i}.quantity`] = 'How many?'
    const weight = line.weight.trim() === '' ? null : typedWeight(line.weight)
    if (weight === null && line.weight.trim() !== '')
      wrong[`items.${i}.weight`] = `“${line.weight.trim()}” is no weight such as 1.2 kg or 1 lb 4 oz.`
    const size = line.size.trim() === '' ? null : typedSize(line.size)
    if (size === null && line.size.trim() !== '')
      wrong[`items.${i}.size`] = `“${line.size.trim()}” is no size such as 30 × 20 × 5 cm.`
    return { what: line.what.trim(), quantity, weight, size }
  })
  const value = form.value.trim() === '' ? 0 : typedAmount(form.value, home())
  if (value === null || value < 0) wrong.value = `“${form.value.trim()}” is no amount such as 50.00.`
  if (Object.keys(wrong).length > 0) return { wrong }
  const { name, company, postcode, city, region, country } = form
  return {
    order: {
      key,
      number: form.number.trim(),
      shipTo: {
        ...{ name, company, postcode, city, region },
        country: country.trim(),
        lines: form.lines
          .split('\n')
          .map((line) => line.trim())
          .filter(Boolean),
      },
      email: form.email.trim(),
      phone: form.phone.trim(),
      items,
      value: value ?? 0,
      wording: form.wording.trim(),
      promisedBy: form.promisedBy,
    },
  }
}
