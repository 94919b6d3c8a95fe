import type { ConnectionView } from '@/usecases/intake/connections'
import { Button } from '../../kit/Button'
import { count } from '../../kit/format'
import { useSay } from '../../kit/Toast'
import { When } from '../../kit/When'

/** Where the other side is to send its messages, and how those of the last 24 hours went. */
export function MessagesOf({ messages }: { messages: NonNullable<ConnectionView['messages']> }) {
  const say = useSay()
  const { url, taken, refused, waiting, failed } = messages
  return (
    <section aria-label="Messages of the marketplace" className="grid gap-1.5 border-t border-hair pt-3">
      <p>Enter this address for messages at the marketplace:</p>
      <p className="flex items-start gap-2">
        <code className="min-w-0 flex-1 break-all bg-paper px-2 py-1 font-mono text-small">{url}</code>
        <Button
          kind="quiet"
          onClick={() =>
            navigator.clipboard.writeText(url).then(
              () => say('The address is copied'),
              () => say('It could not be copied: select it and copy it by hand.', { tone: 'bad' }),
            )
          }
        >
          Copy
        </Button>
      </p>
      <p className="text-soft">
        Last 24 hours: {count(taken)} taken
        {refused > 0 && <span className="text-wait">, {count(refused)} refused (signature or time stamp)</span>}
        {waiting > 0 && `, ${count(waiting)} being worked on`}.
      </p>
      {failed.length > 0 && (
        <ul aria-label="Messages that could not be used" className="grid gap-0.5">
          {failed.map(({ event, receivedAt, problem }) => (
            <li key={event} className="text-lost">
              ◆ <When at={receivedAt} /> {problem}
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}
