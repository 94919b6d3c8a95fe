import { placeNamed } from '@/adapters'
import { facesSchema, type Language, readable } from '@/core/telling'
import type { Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import type { ParcelView, TrackedParcel } from './trackParcel'

/** A parcel of nobody in particular, to see the page with; or what is missing in the draft. */
export async function sampleView(
  gharry: Application,
  draft: unknown,
  channel: string,
  language: Language,
  parcels: number,
): Promise<ParcelView | string> {
  const parsed = facesSchema.safeParse(draft)
  if (!parsed.success) {
    const links = parsed.error.issues.some(({ path }) => path.includes('links'))
    return links ? 'A link needs words, and an address that begins with https://.' : 'The page is not whole yet.'
  }
  const face = parsed.data.channels[channel] ?? parsed.data.all
  const { world } = await currentWorld(gharry.db)
  const day = (ahead: number): string =>
    new Date(gharry.now().getTime() + ahead * 86_400_000).toISOString().slice(0, 10)
  const seen = (ahead: number, status: string, place: string): TrackedParcel['events'][number] => ({
    ...{ at: `${day(ahead)}T08:12:00.000Z`, status, place, text: '' },
  })
  const places = ['Ghent', 'Brussels', 'Utrecht'].flatMap((name) => placeNamed(name, ['BE', 'NL']) ?? [])
  const items = world.items.slice(0, 2).map(({ sku, title }, i) => ({ title: title || sku, quantity: i + 1 }))
  const one = (i: number): TrackedParcel => ({
    ...{ number: `NUMBER${i + 1}`, status: i === 1 ? 'returned' : 'in transit', arrivesOn: day(1), likely: day(1) },
    ...{ surely: day(2), late: false, deliveredAt: null },
    items: items.length > 0 ? items : [{ title: '…', quantity: 1 }],
    events: [seen(-1, 'collected', 'Brussels'), seen(0, 'in transit', 'Utrecht')],
  })
  return {
    ...{ token: 'preview', seller: world.seller?.name ?? '', sellerMail: world.seller?.mail ?? '', face, language },
    colours: readable(face.colours),
    orders: ['M-1042'],
    carrierName: world.carriers[0]?.name ?? '…',
    parcels: Array.from({ length: parcels }, (_, i) => one(i)),
    address: face.show.address ? 'Ada S., 3511·· Utrecht' : '',
    stops: face.show.map ? places : [],
    ...{ zone: 'UTC', words: [], back: { returns: [], can: [] } },
  }
}
