import type { Metadata } from 'next'
import { Tariffs } from '@/ui/ledger/tariffs/Tariffs'
import { showTariffs } from '@/usecases/ledger/tariffs'
import { theApplication } from '@/app/application'

export const metadata: Metadata = { title: 'Tariffs' }

export default async function TariffsPage() {
  return (
    <Tariffs
      initial={
        (await showTariffs(await theApplication())) ?? {
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
