import { z } from 'zod'
import { equalJson } from '@/core/rulebook/language'
import { minorDigits, minorUnits, type MinorUnits } from '@/core/units'
import { sellerSchema, usualSeller, type World } from '@/core/world'
import { anyLabel } from '@/data'
import { refuse, type Answer, type Application, type Refused } from '../shared/application'
import { changeWorld } from '../shared/changeWorld'

/** Who sells, in which currency the books are kept, and what other currencies are worth in it. */
export interface SellerSettings {
  readonly seller: z.infer<typeof sellerSchema>
  readonly home: string
  /** Millionths of a unit of the home currency for one of another. */
  readonly micro: Readonly<Record<string, number>>
}

const isCurrency = (code: string): boolean => Intl.supportedValuesOf('currency').includes(code)
const currency = z.string().refine(isCurrency, 'is no currency code such as EUR')
const settings = z.strictObject({
  seller: sellerSchema,
  home: currency,
  micro: z
    .record(z.string(), z.int().positive().max(1e12))
    .refine((rates) => Object.keys(rates).every(isCurrency), 'names a currency that there is none of'),
})

export const sellerOf = ({ seller = usualSeller, rates }: World): SellerSettings => ({
  seller,
  home: rates.home,
  micro: rates.micro,
})

/** Takes the seller's settings; what is decided by money is decided again. */
export async function saveSeller(
  gharry: Application,
  before: SellerSettings,
  after: unknown,
): Promise<Answer<{ version: number }>> {
  const parsed = settings.safeParse(after)
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!
    return refuse('bad-value', `${issue.path.join(' › ')} ${issue.message}`)
  }
  const { seller, home, micro } = parsed.data
  const bought = await anyLabel(gharry.db)
  return changeWorld(gharry, null, 'The seller’s settings changed', (world): World | Refused => {
    if (!equalJson(sellerOf(world), before))
      return refuse(
        'world-changed',
        'Somebody else has changed these settings meanwhile: theirs are shown beside yours.',
      )
    if (home !== world.rates.home && bought)
      return refuse(
        'in-use',
        `Labels were bought already, and the books are kept in ${world.rates.home}: the home currency stays as it is.`,
      )
    const { [home]: _own, ...others } = micro
    return { ...inCurrency(world, home), seller, rates: { home, micro: others } }
  })
}

/** The world with its amounts of the home currency as the same numbers of another one: 0.38 stays 0.38. */
function inCurrency(world: World, home: string): World {
  const power = 10 ** (minorDigits(home) - minorDigits(world.rates.home))
  if (power === 1 || home === world.rates.home) return world
  const moved = (minor: MinorUnits): MinorUnits => minorUnits(minor * power)
  const some = <K extends string>(key: K, minor: MinorUnits | undefined): { [key in K]?: MinorUnits } =>
    minor === undefined ? {} : ({ [key]: moved(minor) } as { [key in K]: MinorUnits })
  return {
    ...world,
    presets: world.presets.map((preset) => ({ ...preset, ...some('cost', preset.cost) })),
    services: world.services.map((service) => ({
      ...service,
      cover: { included: moved(service.cover.included), upTo: moved(service.cover.upTo) },
      limits: { ...service.limits, ...some('cashOnDelivery', service.limits.cashOnDelivery) },
    })),
  }
}
