import type { ReactNode } from 'react'
import { Announcer } from '@/ui/kit/Announcer'
import { FocusKeeper } from '@/ui/kit/FocusKeeper'
import { Freshness } from '@/ui/kit/Freshness'
import { Line } from '@/ui/line/Line'
import { PersonProvider } from '@/ui/kit/person'
import { Providers } from '@/ui/kit/Providers'
import { HouseProvider } from '@/ui/kit/locale'
import { currentWorld } from '@/usecases/shared/changeWorld'
import { sellerOf } from '@/usecases/setup/seller'
import { showLine } from '@/usecases/shared/showLine'
import { applicationFor, personHere } from '../who'
import { personForScreens } from '../personForScreens'

export default async function LineLayout({ children }: { children: ReactNode }) {
  const gharry = await applicationFor('own.account')
  const [person, counts, house] = await Promise.all([
    personHere(),
    showLine(gharry),
    currentWorld(gharry.db).then(({ world }) => sellerOf(world)),
  ])
  return (
    <HouseProvider home={house.home} units={house.seller.units} paper={house.seller.paper}>
      <Providers>
        <PersonProvider person={personForScreens(person!)}>
          <div className="flex h-dvh flex-col">
            <Line initial={counts} />
            <Freshness />
            <FocusKeeper />
            <Announcer />
            <main id="main" tabIndex={-1} className="min-h-0 flex-1 outline-none">
              {children}
            </main>
          </div>
        </PersonProvider>
      </Providers>
    </HouseProvider>
  )
}
