import type { NextRequest } from 'next/server'
import { sayIn } from '@/ui/customer/words'
import { arrivalEntry } from '@/usecases/tracking/calendars'
import { trackByLink } from '@/usecases/tracking/trackParcel'
import { problem } from '@/app/answer'
import { theApplication } from '@/app/application'
import { customerRoute, languageAsked } from '@/app/customerAnswer'

/** The day on which a parcel comes, for a calendar (iCalendar, RFC 5545). */
export const GET = customerRoute(async (request: NextRequest, { params }: { params: Promise<{ token: string }> }) => {
  const gharry = await theApplication()
  const view = await trackByLink(gharry, (await params).token)
  const say = sayIn(languageAsked(request, view?.language ?? 'en'))
  const entry = view && arrivalEntry(gharry, view, say('order', { numbers: view.orders.join(', ') }))
  if (!entry) return problem(404, 'not-found', 'There is no day to put into a calendar.')
  return new Response(entry, {
    headers: {
      'content-type': 'text/calendar; charset=utf-8',
      'content-disposition': 'attachment; filename="arrival.ics"',
    },
  })
})
