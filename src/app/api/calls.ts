import type { NextRequest } from 'next/server'
import type { Person } from '@/usecases/people/signedIn'

/** The methods that anything here answers. */
export type Method = 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE'

/** What a folder answers: a handler for each method. The door says who asks, where somebody has signed in. */
export type Calls = Readonly<
  Partial<
    Record<
      Method,
      (request: NextRequest, context: { params: Promise<never>; readonly person: Person | null }) => Promise<Response>
    >
  >
>
