import type { Metadata } from 'next'
import { ToAgree } from '@/ui/people/ToAgree'
import { showProposals } from '@/usecases/people/proposals'
import { applicationFor, personHere } from '../../../who'

export const metadata: Metadata = { title: 'To agree' }

export default async function ToAgreePage() {
  const gharry = await applicationFor('second.agree')
  return <ToAgree initial={await showProposals(gharry, (await personHere())!)} />
}
