import type { CallResult } from '../http'

/** What is printed. */
export interface PrintJob {
  readonly name: string
  readonly content: Buffer
  readonly type: 'application/pdf' | 'application/octet-stream'
}

/** A printer of a station. */
export interface PrinterClient {
  /**
   * Sends one job. `begins` is awaited once the printer is there and before anything is sent: from then on some of it
   * may have been printed, whatever becomes of the call.
   */
  readonly print: (job: PrintJob, begins: () => Promise<void>) => Promise<CallResult<null>>
}
