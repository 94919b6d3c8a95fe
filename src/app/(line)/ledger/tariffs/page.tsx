import type { Metadata } from 'next'
import { Tariffs } from '@/ui/ledger/tariffs/Tariffs'
import { showTariffs } from '@/usecases/ledger/tariffs'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'Tariffs' }

export default async function TariffsPage() {
  return (
    <Tariffs
      initial={
        (await showTariffs(await applicationFor('money.see'))) ?? {
          version: 0,
          carriers: [],
          services: [],
          tariffs: [],
          findings: [],
        }
      }
    />
  )
}
