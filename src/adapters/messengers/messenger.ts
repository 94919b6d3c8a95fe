import type { CallResult } from '../http'

/** What a gateway says by itself. `id` is the same when it says it again. */
export type TextNews =
  | {
      readonly kind: 'delivered' | 'failed'
      readonly id: string
      /** The gateway's name of the message. */
      readonly message: string
      /** Why it failed; empty when it does not say. */
      readonly text: string
    }
  | { readonly kind: 'answer'; readonly id: string; readonly from: string; readonly text: string }

/** What Gharry needs of a gateway for text messages. The same key twice is one message. */
export interface MessengerClient {
  /** `to` is a number as E.164 writes it; gives the gateway's name of the message. */
  readonly send: (
    message: { readonly to: string; readonly text: string },
    key: string,
  ) => Promise<CallResult<{ id: string }>>
  readonly news: (
    cursor: string,
  ) => Promise<CallResult<{ readonly news: readonly TextNews[]; readonly cursor: string; readonly more: boolean }>>
}
