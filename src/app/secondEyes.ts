import { NextRequest, NextResponse } from 'next/server'
import { maxTableBytes } from '@/adapters'
import type { Application, Refused } from '@/usecases/shared/application'
import { asWhoAsks } from '@/usecases/people/atTheDoor'
import { agreeTo, propose, settleProposal } from '@/usecases/people/proposals'
import type { From, Person } from '@/usecases/people/signedIn'
import { callsAt } from './api/callsAt'
import type { Method } from './api/calls'
import { bytesOf } from './body'

/** What somebody begins that wants two people: written down instead of done. */
export async function writtenDown(
  gharry: Application,
  person: Person,
  endpoint: string,
  request: NextRequest,
  from: From & { readonly request: string },
): Promise<NextResponse> {
  const body = await bytesOf(request, maxTableBytes)
  const path = request.nextUrl.pathname + request.nextUrl.search
  const written = async (): Promise<{ readonly ok: true; readonly sentence: string }> => ({
    ok: true,
    sentence: await propose(gharry, person, { endpoint, path, body }),
  })
  const { sentence } = await asWhoAsks(gharry, { endpoint, params: {} }, person, from, written)
  return NextResponse.json({ code: 'waits-for-another', sentence }, { status: 202 })
}

/** Does what another person has begun: the same call with the same body, as whoever agrees. */
export async function doAgreed(
  gharry: Application,
  person: Person,
  id: number,
  host: string,
): Promise<Refused | { readonly ok: true; readonly outcome: string }> {
  const agreed = await agreeTo(gharry, person, id)
  if (!agreed.ok) return agreed
  const url = new URL(agreed.path, `http://${host}`)
  const found = callsAt(
    url.pathname
      .replace(/^\/api\//, '')
      .split('/')
      .map(decodeURIComponent),
  )
  const method = agreed.endpoint.split(' ')[0] as Method
  const headers = { host, 'content-type': 'application/json', 'sec-fetch-site': 'same-origin' }
  const request = new NextRequest(url, { method, headers, body: new Uint8Array(agreed.body) })
  const response = await found!.calls[method]!(request, { params: Promise.resolve(found!.params as never), person })
  const said = (await response.json().catch(() => null)) as { sentence?: string } | null
  const outcome = response.ok ? 'Done' : (said?.sentence ?? `It ended with status ${response.status}.`)
  await settleProposal(gharry, id, response.ok, outcome)
  return { ok: true, outcome }
}
