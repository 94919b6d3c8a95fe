import type { NextRequest } from 'next/server'

/** The methods that anything here answers. */
export type Method = 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE'

/** What a folder answers: a handler for each method. */
export type Calls = Readonly<
  Partial<Record<Method, (request: NextRequest, context: { params: Promise<never> }) => Promise<Response>>>
>
