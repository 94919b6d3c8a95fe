import type { Metadata } from 'next'
import { Rules } from '@/ui/rules/Rules'
import { seenValues, showRulebook } from '@/usecases/rules/editRulebook'
import { applicationFor } from '../../who'

export const metadata: Metadata = { title: 'Rules' }

export default async function RulesPage() {
  const gharry = await applicationFor('rules.see')
  return <Rules initial={await showRulebook(gharry)} seen={await seenValues(gharry)} />
}
