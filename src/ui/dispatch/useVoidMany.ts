'use client'
import { call } from '../kit/api'
import { count } from '../kit/format'
import { useSay } from '../kit/Toast'
import { useChange } from '../kit/useChange'

/**
 * Asks carriers to void many labels, and says for how many that went and why not for the others; `queries` are fetched
 * again.
 */
export function useVoidMany(
  ...queries: readonly (readonly unknown[])[]
): (labels: readonly number[]) => Promise<boolean> {
  const change = useChange(...queries)
  const say = useSay()
  return (labels) =>
    change(
      () => call('POST /api/dispatch/labels/void', { body: { labels } }),
      ({ asked, refused }) =>
        say(
          refused.length === 0
            ? `The carriers are asked to void ${count(asked)} ${asked === 1 ? 'label' : 'labels'}`
            : `${count(asked)} asked to be voided; ${count(refused.length)} not: ${refused[0]!.sentence}`,
          refused.length === 0 ? {} : { tone: 'bad' },
        ),
    )
}
