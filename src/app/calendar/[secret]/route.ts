import { calendarFeed } from '@/usecases/tracking/calendars'
import { guarded, problem } from '@/app/answer'
import { theApplication } from '@/app/application'

/** Collections and editions to come, for calendars that ask by themselves (iCalendar, RFC 5545). */
export const GET = (_request: Request, { params }: { params: Promise<{ secret: string }> }): Promise<Response> =>
  guarded(async () => {
    const content = await calendarFeed(await theApplication(), (await params).secret)
    if (content === null) return problem(404, 'not-found', 'There is no such calendar (any more).')
    return new Response(content, { headers: { 'content-type': 'text/calendar; charset=utf-8' } })
  })
