import type { Metadata } from 'next'
import { Tariffs } from '@/ui/ledger/tariffs/Tariffs'
import { showTariffs } from '@/usecases/ledger/tariffs'
import { theGharry } from '@/app/application'

export const metadata: Metadata = { title: 'Tariffs' }

export default async function TariffsPage() {
  return (
    <Tariffs
      initial={
        (await showTariffs(await theGharry())) ?? { version: 0, carriers: [], services: [], tariffs: [], findings: [] }
      }
    />
  )
}
