import type { Metadata } from 'next'
import { z } from 'zod'
import { PartnerPage, type Said } from '@/ui/partner/PartnerPage'
import { answerByHand } from '@/usecases/dispatch/partnerNews'
import { showHandOver } from '@/usecases/dispatch/showHandOver'
import { theApplication } from '../../application'

export const metadata: Metadata = { title: 'A shipment for you', robots: { index: false, follow: false } }

const form = z.object({
  token: z.string().max(64),
  kind: z.enum(['acknowledged', 'refused', 'despatched']),
  text: z.string().trim().max(500).default(''),
  carrier: z.string().max(80).default(''),
  numbers: z.string().max(5000).default(''),
})

async function answer(_before: Said, data: FormData): Promise<Said> {
  'use server'
  const parsed = form.safeParse(Object.fromEntries(data))
  if (!parsed.success) return { wrong: 'This cannot be read: at most 500 characters of text, 5,000 of numbers.' }
  const { token, kind, text, carrier, numbers } = parsed.data
  const list = numbers
    .split(/[\n,;]+/)
    .map((one) => one.trim())
    .filter(Boolean)
  const result = await answerByHand(
    await theApplication(),
    token,
    kind === 'despatched' ? { kind, carrier, numbers: list.slice(0, 50) } : { kind, text },
  )
  return result.ok ? { done: kind } : { wrong: result.sentence, typed: { numbers, carrier, text } }
}

export default async function HandOverPage({ params }: { params: Promise<{ token: string }> }) {
  const { token } = await params
  const view = await showHandOver(await theApplication(), token)
  if (view) return <PartnerPage view={view} token={token} answer={answer} />
  return (
    <main className="mx-auto min-h-dvh max-w-2xl bg-sheet px-5 py-8">
      <h1 className="text-title">This link leads to no shipment</h1>
      <p className="mt-2">Use the link of the newest mail about it.</p>
    </main>
  )
}
