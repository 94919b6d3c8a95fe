import type { ReactNode } from 'react'
import { HouseProvider } from '@/ui/kit/locale'
import { Providers } from '@/ui/kit/Providers'
import { type DeskNames, deskNames } from '@/usecases/desk/showDesk'
import { sellerOf } from '@/usecases/setup/seller'
import { currentWorld } from '@/usecases/shared/changeWorld'
import type { World } from '@/core/world'
import type { Permission } from '@/core/people'
import { PersonProvider } from '@/ui/kit/person'
import { personForScreens } from './personForScreens'
import { applicationFor, personHere } from './who'

/** A page that has the whole screen, as those of the dispatch floor have: whoever works there goes nowhere else. */
export async function wholeScreen(
  permission: Permission,
  page: (names: DeskNames, world: World) => ReactNode,
): Promise<ReactNode> {
  const gharry = await applicationFor(permission)
  const person = await personHere()
  const { world } = await currentWorld(gharry.db)
  const house = sellerOf(world)
  return (
    <HouseProvider home={house.home} units={house.seller.units} paper={house.seller.paper}>
      <Providers>
        <PersonProvider person={personForScreens(person!)}>{page(await deskNames(gharry), world)}</PersonProvider>
      </Providers>
    </HouseProvider>
  )
}
