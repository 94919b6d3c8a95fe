'use client'
import dynamic from 'next/dynamic'
import { Suspense, useSyncExternalStore } from 'react'
import { isSignedOut, onSignedOut } from './signedOutNews'

// Hardly anybody sees it: it is fetched when it is needed.
const SignedOutDialog = dynamic(() => import('./SignedOutDialog').then((module) => module.SignedOutDialog), {
  ssr: false,
})

/** Says that the sign-in is over, wherever one is: what was typed stays in the browser, and is offered again. */
export function SignedOut() {
  const out = useSyncExternalStore(onSignedOut, isSignedOut, () => false)
  return (
    out && (
      <Suspense>
        <SignedOutDialog />
      </Suspense>
    )
  )
}
