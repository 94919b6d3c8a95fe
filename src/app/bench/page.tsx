import type { Metadata } from 'next'
import { Bench } from '@/ui/dispatch/bench/Bench'
import { HouseProvider } from '@/ui/kit/locale'
import { Providers } from '@/ui/kit/Providers'
import { deskNames } from '@/usecases/desk/showDesk'
import { currentWorld } from '@/usecases/shared/changeWorld'
import { sellerOf } from '@/usecases/setup/seller'
import { theApplication } from '../application'

export const metadata: Metadata = { title: 'Bench' }

/** A bench has the whole screen: its packer goes nowhere else. */
export default async function BenchPage() {
  const gharry = await theApplication()
  const house = sellerOf((await currentWorld(gharry.db)).world)
  return (
    <HouseProvider home={house.home} units={house.seller.units} paper={house.seller.paper}>
      <Providers>
        <Bench names={await deskNames(gharry)} />
      </Providers>
    </HouseProvider>
  )
}
