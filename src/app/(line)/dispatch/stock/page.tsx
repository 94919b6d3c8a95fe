import type { Metadata } from 'next'
import { Stock } from '@/ui/dispatch/stock/Stock'
import { showStock } from '@/usecases/dispatch/stock/showStock'
import { applicationFor } from '../../../who'

export const metadata: Metadata = { title: 'Stock' }

export default async function StockPage() {
  return <Stock initial={await showStock(await applicationFor('labels.see'), {}, 0)} />
}
