import type { Metadata } from 'next'
import { Seller } from '@/ui/setup/seller/Seller'
import { showSetup } from '@/usecases/setup/showSetup'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'Seller' }

export default async function SellerPage() {
  return <Seller initial={await showSetup(await applicationFor('setup.see'))} />
}
