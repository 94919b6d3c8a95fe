import type { Metadata } from 'next'
import { Rates } from '@/ui/ledger/rates/Rates'
import { deskNames } from '@/usecases/desk/showDesk'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'Compare rates' }

export default async function RatesPage() {
  const names = await deskNames(await applicationFor('money.see'))
  return (
    <Rates locations={Object.entries(names.locations).map(([id, name]) => ({ id, name }))} services={names.services} />
  )
}
