import { beginTraces, noteInTrace, traced } from '@/adapters'

/** Does a call of the interface as a span, with how it ended. */
export const tracedCall = (endpoint: string, work: () => Promise<Response>): Promise<Response> =>
  traced(
    endpoint,
    {},
    async () => {
      const response = await work()
      noteInTrace({ 'http.response.status_code': response.status })
      return response
    },
    'SERVER',
  )

/** Sends traces where GHARRY_TRACES says; gives what ends it. Without it there are none. */
export async function tracesAsWanted(service: string): Promise<() => Promise<void>> {
  const collector = process.env.GHARRY_TRACES ?? ''
  return collector === '' ? () => Promise.resolve() : beginTraces(collector, service)
}
