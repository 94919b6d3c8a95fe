import type { CarrierEvent } from '@/adapters'
import { type Database, takeEarlyEvents } from '@/data'

/** What a carrier told of numbers before they were in the books, as it told it; kept no longer. */
export const earlyNews = async (trx: Database, carrier: string, numbers: readonly string[]): Promise<CarrierEvent[]> =>
  (await takeEarlyEvents(trx, carrier, numbers)).map(({ remoteId, trackingNumber, at, status, place, text }) => ({
    ...{ id: remoteId, trackingNumber, at, status: status as CarrierEvent['status'], place, text },
  }))
