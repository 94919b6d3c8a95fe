'use client'
import type { OrderView } from '@/usecases/desk/showOrder'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { StateMark } from '../../kit/StateMark'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'
import { When } from '../../kit/When'
import { Section } from './Section'

const received: Readonly<Record<string, string>> = {
  ...{ delivered: 'arrived', failed: 'did not arrive', 'came back': 'came back' },
}

/** What the customer was told, by which medium, what became of it, and how to say it again. */
export function CustomerTold({ view }: { view: OrderView }) {
  const say = useSay()
  const change = useChange(['order', view.row.id], ['desk'])
  if (view.notices.length === 0)
    return view.unwritten === '' ? null : (
      <Section title="Told the customer">
        <p className="text-soft">{view.unwritten}</p>
      </Section>
    )
  const path = { id: String(view.row.id) }
  const again = (medium: 'mail' | 'text'): Promise<boolean> =>
    change(
      () => call('POST /api/desk/orders/:id/notices', { path, body: { medium } }),
      ({ recipient }) => say(`It is sent again, to ${recipient}`),
    )
  const write = (address: string): Promise<boolean> =>
    change(
      () => call('PUT /api/desk/orders/:id/notices', { path, body: { address } }),
      'Messages go there again, from the next one on',
    )
  const media = [...new Set(view.notices.map(({ medium }) => medium))]
  return (
    <Section title="Told the customer">
      {view.notices.map((notice) => (
        <p key={notice.id} className="flex flex-wrap items-baseline gap-x-2 py-0.5">
          <StateMark state={notice.state} />
          <span>
            {notice.step}
            {notice.position > 0 && `, parcel ${notice.position}`}
          </span>
          <span className="text-soft">
            {notice.medium === 'text' ? 'text' : 'mail'} to {notice.recipient}{' '}
            <When at={notice.sentAt ?? notice.nextAt} />
            {notice.received && `, ${received[notice.received] ?? notice.received}`}
          </span>
          {notice.problem && <span className="w-full text-small text-soft">{notice.problem}</span>}
        </p>
      ))}
      {view.silenced.map(({ address, why, said, at }) => (
        <p key={address} className="mt-1 flex flex-wrap items-center gap-2 bg-wait-soft p-2">
          <span className="min-w-0 flex-1">
            {why === 'stopped' ? `${address} wants no more messages` : `${address}: what was sent came back, ${said}`}{' '}
            <When at={at} />
          </span>
          <Button kind="quiet" onClick={() => write(address)}>
            Write there again
          </Button>
        </p>
      ))}
      <p className="flex gap-2 pt-1">
        {media.map((medium) => (
          <Button key={medium} kind="quiet" onClick={() => again(medium)}>
            Send the last {medium === 'text' ? 'text message' : 'mail'} again
          </Button>
        ))}
      </p>
    </Section>
  )
}
