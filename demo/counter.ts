import { measured } from '@/core/units'
import type { Carrier, Service, Tariff } from '@/core/rating'
import type { Condition, Rulebook } from '@/core/rulebook/language'
import type { World } from '@/core/world'

/** The counter in Ghent: orders are fetched there, nothing is sent and nothing is paid. */
const counterCarrier: Carrier = { id: 'counter', name: 'Counter' }
const counterService = measured<Service>({
  ...{ id: 'counter-ghent', carrier: 'counter', name: 'Fetched in Ghent', locations: ['ghent'], fetched: true },
  zones: ['BE', 'NL', 'FR', 'DE'].map((to) => ({ zone: 'counter', from: 'BE', to, transitDays: 0 })),
  limits: {
    weight: 30_000,
    longestSide: 2000,
    girth: 4000,
    postOfficeBox: true,
    dangerousGoods: ['UN 1013', 'UN 3481'],
  },
  ...{ cutOff: '16:00', collects: [1, 2, 3, 4, 5, 6], delivers: [1, 2, 3, 4, 5, 6] },
  offers: ['tracking', 'signature', 'live goods'],
  cover: { included: 0, upTo: 500_000 },
})
const counterTariff = measured<Tariff>({
  ...{ service: 'counter-ghent', from: '2026-01-01', until: null, currency: 'EUR', basis: 'shipment' },
  ...{ dimensionalDivisor: null, roundUpTo: 1, discountPermille: 0 },
  zones: { counter: { bands: [{ upTo: 1_000_000, price: 0 }] } },
  surcharges: [],
})

/** What the checkout says of orders that are fetched. */
export const fetchWording = 'Fetch in Ghent'
const asked: Condition = { fact: 'wording', op: 'is', value: fetchWording }

/** A world with the counter. */
export const withCounter = (world: World): World => ({
  ...world,
  carriers: [...world.carriers, counterCarrier],
  services: [...world.services, counterService],
  tariffs: [...world.tariffs, counterTariff],
})

/** A rulebook whose first rules of place and service send what is fetched to the counter. */
export const withCounterRules = (rulebook: Rulebook): Rulebook => ({
  ...rulebook,
  rules: [
    {
      id: 'o-fetch',
      stage: 'origin',
      name: 'Fetched in Ghent',
      on: true,
      when: asked,
      then: [{ set: 'location', to: 'ghent' }],
    },
    {
      ...{ id: 'v-fetch', stage: 'service', name: 'Fetched at the counter', on: true, when: asked },
      then: [{ set: 'picks', to: [{ by: 'service', service: counterService.id }] }],
    },
    ...rulebook.rules,
  ],
})
