import type { Metadata } from 'next'
import { Rules } from '@/ui/rules/Rules'
import { seenValues, showRulebook } from '@/usecases/rules/editRulebook'
import { theApplication } from '../../application'

export const metadata: Metadata = { title: 'Rules' }

export default async function RulesPage() {
  const gharry = await theApplication()
  return <Rules initial={await showRulebook(gharry)} seen={await seenValues(gharry)} />
}
