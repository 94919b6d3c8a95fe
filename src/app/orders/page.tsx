import type { Metadata } from 'next'
import { PersonProvider } from '@/ui/kit/person'
import { Providers } from '@/ui/kit/Providers'
import { HouseProvider } from '@/ui/kit/locale'
import { LocationOrders } from '@/ui/people/LocationOrders'
import { showLocationOrders } from '@/usecases/people/locationOrders'
import { sellerOf } from '@/usecases/setup/seller'
import { currentWorld } from '@/usecases/shared/changeWorld'
import { personForScreens } from '../personForScreens'
import { applicationFor, personHere } from '../who'

export const metadata: Metadata = { title: 'Orders' }

type Search = Promise<{ q?: string | string[]; state?: string | string[] }>

/** The orders of one location, for the partner who ships from there: nothing else of Gharry's is asked for. */
export default async function OrdersPage({ searchParams }: { searchParams: Search }) {
  const gharry = await applicationFor('location.see')
  const person = (await personHere())!
  const { q, state } = await searchParams
  const asked = { q: [q].flat()[0] ?? '', state: [state].flat()[0] ?? '' }
  const { world } = await currentWorld(gharry.db)
  const house = sellerOf(world)
  return (
    <HouseProvider home={house.home} units={house.seller.units} paper={house.seller.paper}>
      <Providers>
        <PersonProvider person={personForScreens(person)}>
          <LocationOrders asked={asked} view={await showLocationOrders(gharry, person, asked)} />
        </PersonProvider>
      </Providers>
    </HouseProvider>
  )
}
