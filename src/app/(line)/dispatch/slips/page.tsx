import type { Metadata } from 'next'
import { Slips } from '@/ui/dispatch/slips/Slips'
import { showSlips } from '@/usecases/dispatch/slips'
import { applicationFor } from '@/app/who'

export const metadata: Metadata = { title: 'Slip templates' }

export default async function SlipsPage() {
  return <Slips initial={(await showSlips(await applicationFor('labels.see'))) ?? { version: 0, slips: [] }} />
}
