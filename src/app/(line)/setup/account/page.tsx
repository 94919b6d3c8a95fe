import type { Metadata } from 'next'
import { Account } from '@/ui/people/Account'
import { showAccount } from '@/usecases/people/account'
import { applicationFor, personHere } from '../../../who'

export const metadata: Metadata = { title: 'Your account' }

export default async function AccountPage() {
  const gharry = await applicationFor('own.account')
  return <Account initial={await showAccount(gharry, (await personHere())!)} />
}
