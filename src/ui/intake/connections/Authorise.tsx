import type { ConnectionView } from '@/usecases/intake/connections'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { dayWithYear } from '../../kit/format'
import { useChange } from '../../kit/useChange'

/** Sends the person to the other side, where they allow Gharry what it needs; they come back to this page. */
export function Authorise({ connection, changed }: { connection: ConnectionView; changed: boolean }) {
  const change = useChange()
  const { state } = connection.health
  const inForce = state !== 'not authorised' && state !== 'ended'
  return (
    <section aria-label="Authorisation" className={`grid gap-2 p-2.5 ${inForce ? 'bg-paper' : 'bg-wait-soft'}`}>
      <p>
        {inForce
          ? `It is authorised${connection.endsAt ? ` until ${dayWithYear(connection.endsAt)}` : ''}.`
          : 'You are sent to the marketplace, allow it there, and come back here.'}
      </p>
      <p className="flex flex-wrap items-center gap-2">
        <Button
          disabled={changed}
          onClick={() =>
            change(
              () => call('POST /api/intake/connections/:id/authorise', { path: { id: connection.id }, body: {} }),
              ({ url }) => window.location.assign(url),
            )
          }
        >
          {inForce ? 'Authorise again' : 'Authorise'}
        </Button>
        {changed && <span className="text-small text-soft">Save what you changed first.</span>}
      </p>
    </section>
  )
}
