import type { NoticeStep } from '../steps'

/** What is said of a step: placeholders as in a text of the seller's own. */
export interface StepWords {
  readonly subject: string
  /** The heart of a letter: one or two sentences. */
  readonly says: string
  readonly sms: string
  /** What stands on the button, where it is not `see`. */
  readonly see?: string
}

/** All that notices say in one language. */
export interface NoticeWords {
  readonly hello: string
  /** Said to somebody whose name is not known. */
  readonly there: string
  /** Before the link in plain text, and on the button. */
  readonly where: string
  readonly see: string
  readonly numbers: string
  /** Of which parcels it is said, where it is not of all. */
  readonly about: (parcels: string, of: number) => string
  readonly stop: string
  readonly smsStop: string
  readonly steps: Readonly<Record<NoticeStep, StepWords>>
}
