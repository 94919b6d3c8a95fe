'use client'
import { useQuery } from '@tanstack/react-query'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { useChange } from '../../kit/useChange'

/** The link under which calendars find collections and editions to come. */
export function CalendarPart() {
  const { data } = useQuery({ queryKey: ['calendar-feed'], queryFn: () => call('GET /api/setup/calendar') })
  const change = useChange(['calendar-feed'])
  const url = data?.url ?? ''
  return (
    <section className="mt-8">
      <h2 className="text-lead">Calendar</h2>
      <p className="mt-1 max-w-3xl text-soft">
        When carriers collect in the next two weeks, and when editions come into force: a link that a calendar is
        subscribed to. Who has the link can read it.
      </p>
      {url && <p className="mt-2 font-mono text-small break-all">{url}</p>}
      <p className="mt-2">
        <Button
          onClick={() =>
            change(
              () => call('POST /api/setup/calendar', { body: {} }),
              url ? 'The old link leads nowhere any more' : 'Subscribe to it in a calendar',
            )
          }
        >
          {url ? 'Make another link' : 'Make a link'}
        </Button>
      </p>
    </section>
  )
}
