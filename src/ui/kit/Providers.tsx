'use client'
import { MutationCache, QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { NuqsAdapter } from 'nuqs/adapters/next/app'
import { useState, type ReactNode } from 'react'
import { Refusal, sentenceOf } from './api'
import { SignedOut } from './SignedOut'
import { MessageRegion, useSay } from './Toast'

/** Not done, but written down until somebody else agrees. */
const isWaiting = (error: unknown): boolean => error instanceof Refusal && error.code === 'waits-for-another'

export function Providers({ children }: { children: ReactNode }) {
  const say = useSay()
  const [client] = useState(
    () =>
      new QueryClient({
        mutationCache: new MutationCache({
          onError: (error) => say(sentenceOf(error), isWaiting(error) ? {} : { tone: 'bad' }),
        }),
        defaultOptions: {
          // Without a network everything fails at once, and that is said: it is not kept for later unseen.
          queries: { staleTime: 1000, retry: 1, refetchOnWindowFocus: true, networkMode: 'always' },
          mutations: { networkMode: 'always' },
        },
      }),
  )
  return (
    <QueryClientProvider client={client}>
      <NuqsAdapter>{children}</NuqsAdapter>
      <MessageRegion />
      <SignedOut />
    </QueryClientProvider>
  )
}
