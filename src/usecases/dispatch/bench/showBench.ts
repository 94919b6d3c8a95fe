import { countChecked, newestPrintJobs, putAside } from '@/data'
import { type BenchSettings, benchSettings } from './benchPrinter'
import type { Application } from '../../shared/application'

/** What a bench shows while nothing is open. */
export interface BenchDay {
  /** How many parcels it has checked in the last twelve hours. */
  readonly checked: number
  readonly settings: BenchSettings
  /** What went to its printer last, the newest first. */
  readonly prints: Awaited<ReturnType<typeof newestPrintJobs>>
  readonly aside: readonly {
    readonly number: string
    readonly bench: string
    readonly why: string
    readonly at: string
  }[]
}

const shiftMs = 12 * 3_600_000

/** A bench's shift so far, and what was put aside anywhere. */
export async function showBench(gharry: Application, bench: string): Promise<BenchDay> {
  const since = new Date(gharry.now().getTime() - shiftMs).toISOString()
  return {
    settings: await benchSettings(gharry.db, bench),
    prints: await newestPrintJobs(gharry.db, bench, 5),
    checked: await countChecked(gharry.db, bench, since),
    aside: (await putAside(gharry.db, 20)).map(({ number, bench: at, why, doneAt, beganAt }) => ({
      ...{ number, bench: at, why, at: doneAt ?? beganAt },
    })),
  }
}
