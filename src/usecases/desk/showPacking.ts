import { layOut, type Parcel } from '@/core/packing'
import { decisionOf, newestWorld, ordersById } from '@/data'
import type { Application } from '../shared/application'

/** How an order is packed, for a picture at the bench. Millimetres from the left front corner at the bottom. */
export interface PackingView {
  readonly parcels: readonly {
    readonly parcel: Parcel
    readonly name: string
    /** Inner size of the preset; null when it has none. */
    readonly inner: readonly [number, number, number] | null
    /** From the bottom up: the pieces that begin at one height. Null when the pieces were not placed one by one. */
    readonly layers:
      | readonly {
          readonly from: number
          readonly pieces: readonly {
            readonly item: number
            readonly x: number
            readonly y: number
            readonly width: number
            readonly depth: number
            readonly height: number
          }[]
        }[]
      | null
  }[]
  readonly items: readonly { readonly sku: string; readonly title: string }[]
}

export async function showPacking(gharry: Application, id: number): Promise<PackingView | null> {
  const [stored] = await ordersById(gharry.db, [id])
  const decided = await decisionOf(gharry.db, id)
  const world = (await newestWorld(gharry.db))?.world
  if (!stored || !decided || !world) return null
  return {
    items: stored.order.items.map(({ sku, title }) => ({ sku, title })),
    parcels: decided.outcome.parcels.map((parcel) => {
      const preset = world.presets.find((candidate) => candidate.id === parcel.preset)
      const placed = parcel.contents.length > 0 ? layOut(stored.order.items, parcel, world.presets) : null
      return {
        parcel,
        name: preset?.name ?? 'own box',
        inner: preset?.inner ?? null,
        layers: placed && layersOf(placed),
      }
    }),
  }
}

type Placed = NonNullable<ReturnType<typeof layOut>>
type Layers = NonNullable<PackingView['parcels'][number]['layers']>

/** Pieces by the height at which they begin. */
function layersOf(placed: Placed): Layers {
  const heights = [...new Set(placed.map(({ at }) => at[2]))].sort((a, b) => a - b)
  return heights.map((from) => ({
    from,
    pieces: placed
      .filter(({ at }) => at[2] === from)
      .map(({ unit, at, size }) => ({
        item: unit.item,
        x: at[0],
        y: at[1],
        width: size[0],
        depth: size[1],
        height: size[2],
      })),
  }))
}
