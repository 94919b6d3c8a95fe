import { type Money, type Rates, toHome, type MinorUnits } from '@/core/units'

/**
 * What a country asks on imports, by the beginning of the HS code; the longest beginning that fits goes before shorter
 * ones.
 */
export interface DutyRate {
  readonly country: string
  /** Empty for all goods. */
  readonly hs: string
  readonly dutyPermille: number
  readonly taxPermille: number
  /** Goods up to this value (minor units of the home currency) come in without duty. */
  readonly dutyFreeUpTo?: MinorUnits
  /** … and up to this one without tax. */
  readonly taxFreeUpTo?: MinorUnits
}

export interface DutyEstimate {
  readonly duty: number
  readonly tax: number
}

/**
 * Duty and import tax on goods, estimated in minor units of the home currency: duty on the value of the goods and their
 * freight (CIF, as the WTO Customs Valuation Agreement allows in Article 8.2), tax on that with the duty. Rounded half
 * up for each line. Null when the country has no rates here, or a value has no exchange rate.
 */
export function estimateDuties(
  items: readonly { readonly hsCode: string; readonly value: Money }[],
  freight: Money,
  country: string,
  rates: readonly DutyRate[],
  exchange: Rates,
): DutyEstimate | null {
  const own = rates.filter((rate) => rate.country === country).sort((a, b) => b.hs.length - a.hs.length)
  const values = items.map(({ value }) => toHome(value, exchange))
  const freightHome = toHome(freight, exchange)
  if (own.length === 0 || freightHome === null || values.includes(null)) return null
  const goods = (values as number[]).reduce((sum, value) => sum + value, 0)
  let duty = 0
  let tax = 0
  for (const [i, { hsCode }] of items.entries()) {
    const digits = hsCode.replace(/\D/g, '')
    const rate = own.find(({ hs }) => digits.startsWith(hs.replace(/\D/g, '')))
    if (!rate) return null
    const value = (values as number[])[i]!
    const landed = value + (goods === 0 ? 0 : Math.round((freightHome * value) / goods))
    const due = goods <= (rate.dutyFreeUpTo ?? -1) ? 0 : Math.floor((landed * rate.dutyPermille + 500) / 1000)
    duty += due
    if (goods > (rate.taxFreeUpTo ?? -1)) tax += Math.floor(((landed + due) * rate.taxPermille + 500) / 1000)
  }
  return { duty, tax }
}
