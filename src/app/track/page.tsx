import type { Metadata } from 'next'
import { headers } from 'next/headers'
import { redirect } from 'next/navigation'
import { z } from 'zod'
import { currentWorld } from '@/usecases/shared/changeWorld'
import { addressBehind, findByOrder } from '@/usecases/tracking/trackParcel'
import { theApplication } from '../application'

export const metadata: Metadata = { title: 'Where is my order?' }

const form = z.object({ number: z.string().trim().min(1).max(60), email: z.string().trim().min(3).max(254) })

async function find(data: FormData): Promise<void> {
  'use server'
  const parsed = form.safeParse(Object.fromEntries(data))
  if (!parsed.success) redirect('/track?said=incomplete')
  const gharry = await theApplication()
  const answer = await findByOrder(
    gharry,
    parsed.data.number,
    parsed.data.email,
    addressBehind((await headers()).get('x-forwarded-for'), gharry.settings.proxies),
  )
  redirect(answer.ok ? `/track/${answer.token}` : `/track?said=${answer.code}`)
}

const sentences: Readonly<Record<string, string>> = {
  incomplete: 'Please write both, the order number and the e-mail address.',
  'not-found':
    'We cannot find a parcel for this order number and e-mail address. Check both, or use the link in your mail.',
  'too-many-tries': 'Too many tries. Please wait ten minutes, or use the link in your mail.',
}

export default async function FindPage({ searchParams }: { searchParams: Promise<{ said?: string }> }) {
  const { said } = await searchParams
  const seller = (await currentWorld((await theApplication()).db)).world.seller?.name
  const field = 'mt-1 w-full rounded-[3px] border border-hair bg-sheet px-3 py-2 text-lead'
  return (
    <main className="mx-auto min-h-dvh max-w-md bg-sheet px-5 py-8">
      {seller && <p className="text-soft">{seller}</p>}
      <h1 className="mt-2 text-title">Where is my order?</h1>
      {said && sentences[said] && (
        <p role="alert" className="mt-4 bg-wait-soft p-3">
          {sentences[said]}
        </p>
      )}
      <form action={find} className="mt-5 grid gap-4">
        <label>
          Order number
          <input name="number" required className={field} autoComplete="off" />
        </label>
        <label>
          E-mail address of the order
          <input name="email" type="email" required className={field} autoComplete="email" />
        </label>
        <button className="rounded-[3px] bg-act px-4 py-2.5 text-lead font-semibold text-on-act">Find it</button>
      </form>
    </main>
  )
}
