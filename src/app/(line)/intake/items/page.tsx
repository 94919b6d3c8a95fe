import type { Metadata } from 'next'
import { IntakeHead } from '@/ui/intake/IntakeHead'
import { Items } from '@/ui/intake/items/Items'
import { showItems } from '@/usecases/intake/items'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'Items' }

export default async function ItemsPage() {
  return (
    <div className="flex h-full flex-col">
      <IntakeHead at="items" />
      <Items
        initial={
          (await showItems(await applicationFor('intake.see'), '')) ?? {
            version: 0,
            items: [],
            total: 0,
            harmed: 0,
            learned: [],
          }
        }
      />
    </div>
  )
}
