import { readdirSync, readFileSync } from 'node:fs'
import { queues } from '@/data'
import { percentile } from '../figures'
import type { House } from '../house'

/** What was seen of the house from time to time. */
export interface Seen {
  /** Seconds since the day began. */
  readonly at: number
  /** How long the oldest due work of each kind has waited, in seconds. */
  readonly ages: Readonly<Record<string, number>>
  readonly due: Readonly<Record<string, number>>
  /** Megabytes and open files of each process. */
  readonly memory: Readonly<Record<string, number>>
  readonly files: Readonly<Record<string, number>>
}

/** Looks at queues and processes once. */
export async function look(house: House, at: number): Promise<Seen> {
  const now = new Date()
  const all = await queues(house.db, now.toISOString(), now.toISOString())
  const memory: Record<string, number> = {}
  const files: Record<string, number> = {}
  for (const [name, pid] of house.pids()) {
    try {
      const rss = /VmRSS:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1]
      memory[name] = Math.round(Number(rss) / 1024)
      files[name] = readdirSync(`/proc/${pid}/fd`).length
    } catch {
      // It has just ended.
    }
  }
  return {
    ...{ at, memory, files },
    ages: Object.fromEntries(
      all.map(({ table, oldest }) => [table, oldest === null ? 0 : (now.getTime() - Date.parse(oldest)) / 1000]),
    ),
    due: Object.fromEntries(all.map(({ table, due }) => [table, due])),
  }
}

/** What a process took in the two minutes until a moment, as a rule: `MB / open files`. */
export function usualUntil(seen: readonly Seen[], name: string, at: number): string {
  const near = seen.filter((one) => one.at <= at && one.at > at - 120)
  const [memory, files] = [near.map((one) => one.memory[name] ?? 0), near.map((one) => one.files[name] ?? 0)]
  return `${percentile(memory, 0.5)} / ${percentile(files, 0.5)}`
}
