import type { Metadata } from 'next'
import Link from 'next/link'
import { ParcelPage } from '@/ui/tracking/ParcelPage'
import { trackByLink } from '@/usecases/tracking/trackParcel'
import { theApplication } from '../../application'

export const metadata: Metadata = { title: 'Your parcel', robots: { index: false, follow: false } }

export default async function TrackPage({ params }: { params: Promise<{ token: string }> }) {
  const { token } = await params
  const parcel = await trackByLink(await theApplication(), token)
  if (parcel) return <ParcelPage parcel={parcel} />
  return (
    <main className="mx-auto min-h-dvh max-w-md bg-sheet px-5 py-8">
      <h1 className="text-title">This link leads to no parcel</h1>
      <p className="mt-2">
        It may have been replaced by a newer one: look for our latest mail, or{' '}
        <Link className="text-act underline" href="/track">
          find the parcel by its order number
        </Link>
        .
      </p>
    </main>
  )
}
