import type { ReactNode } from 'react'
import { HouseProvider } from '@/ui/kit/locale'
import { Providers } from '@/ui/kit/Providers'
import { type DeskNames, deskNames } from '@/usecases/desk/showDesk'
import { sellerOf } from '@/usecases/setup/seller'
import { currentWorld } from '@/usecases/shared/changeWorld'
import type { World } from '@/core/world'
import { theApplication } from './application'

/** A page that has the whole screen, as those of the dispatch floor have: whoever works there goes nowhere else. */
export async function wholeScreen(page: (names: DeskNames, world: World) => ReactNode): Promise<ReactNode> {
  const gharry = await theApplication()
  const { world } = await currentWorld(gharry.db)
  const house = sellerOf(world)
  return (
    <HouseProvider home={house.home} units={house.seller.units} paper={house.seller.paper}>
      <Providers>{page(await deskNames(gharry), world)}</Providers>
    </HouseProvider>
  )
}
