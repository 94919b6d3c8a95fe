import { fetchedServices } from '@/core/world'
import { handedOutLast, onTheShelf, type PickupLine, toShelve, type ToShelve } from '@/data'
import type { Application } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'
import { dayAt } from '../door/doorView'

/** A counter: what is to be put on a shelf, what waits there, and what was handed out last. */
export interface CounterView {
  readonly today: string
  readonly toShelve: readonly ToShelve[]
  readonly onShelf: readonly PickupLine[]
  /** How many of them are to be asked about. */
  readonly late: number
  readonly handedOut: readonly PickupLine[]
}

const most = 200

/** How a counter stands. */
export async function showCounter(gharry: Application, location: string): Promise<CounterView> {
  const { db } = gharry
  const { world } = await currentWorld(db)
  const today = dayAt(world, location, gharry.now())
  const onShelf = await onTheShelf(db, location, most)
  return {
    ...{ today, onShelf },
    toShelve: await toShelve(db, location, fetchedServices(world), most),
    late: onShelf.filter(({ askOn }) => askOn <= today).length,
    handedOut: await handedOutLast(db, location, 10),
  }
}
