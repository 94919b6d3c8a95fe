import type { Metadata } from 'next'
import { Slips } from '@/ui/dispatch/slips/Slips'
import { showSlips } from '@/usecases/dispatch/slips'
import { theApplication } from '@/app/application'

export const metadata: Metadata = { title: 'Slip templates' }

export default async function SlipsPage() {
  return <Slips initial={(await showSlips(await theApplication())) ?? { version: 0, slips: [] }} />
}
