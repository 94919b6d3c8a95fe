import { randomUUID } from 'node:crypto'
import { readFileSync, readlinkSync } from 'node:fs'
import { hostname } from 'node:os'
import type { Database } from './database'
import { openStates, type WorkTable } from './workTables'

/*
 * Who holds a lease: a name that also says which process it is, and where it runs. A worker that begins asks which
 * holders are dead, and takes up their work at once; of those it cannot tell, the lease has to run out.
 */

const read = (file: string): string => {
  try {
    return readFileSync(file, 'utf8').trim()
  } catch {
    return ''
  }
}

/**
 * Where numbers of processes mean the same ones: this start of this machine, and on Linux this namespace of them, as
 * each container has its own.
 */
function placeOfProcesses(): string {
  const boot = read('/proc/sys/kernel/random/boot_id')
  try {
    if (boot !== '') return `${boot} ${readlinkSync('/proc/self/ns/pid')}`
  } catch {
    // Not told: the name of the machine does.
  }
  return hostname()
}

/**
 * When a process began, in ticks since the machine did, and its state (proc_pid_stat(5), fields 22 and 3); empty where
 * that is not told.
 */
function lookAt(pid: number | 'self'): { readonly began: string; readonly state: string } {
  const stat = read(`/proc/${pid}/stat`)
  // The name of the program, in brackets, may hold blanks.
  const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ')
  return { began: fields[19] ?? '', state: fields[0]! }
}

const here = placeOfProcesses()
const me = JSON.stringify([here, process.pid, lookAt('self').began])

/** A name under which this process holds what it takes now. */
export const newOwner = (): string => `${me}${randomUUID()}`

/** Whether the process that took something under a name is certainly no more. */
export function isDead(owner: string): boolean {
  const end = owner.lastIndexOf(']')
  if (end < 0) return false
  const [place, pid, began] = JSON.parse(owner.slice(0, end + 1)) as [string, number, string]
  if (place !== here) return false
  try {
    process.kill(pid, 0)
  } catch (error) {
    return (error as { code?: string }).code === 'ESRCH'
  }
  const now = lookAt(pid)
  // Killed, and not taken note of by who began it; or another process has its number by now.
  return now.state === 'Z' || (began !== '' && now.began !== '' && now.began !== began)
}

/** Frees what dead processes hold: it is due again, as if their leases had run out. Gives how much that is. */
export async function freeLeasesOfDead(db: Database): Promise<number> {
  let freed = 0
  for (const [table, states] of Object.entries(openStates) as [WorkTable, readonly string[]][]) {
    const owners = await db(table)
      .whereIn('state', states)
      .whereNotNull('lease_until')
      .whereNotNull('lease_owner')
      .distinct('lease_owner')
      .pluck<string[]>('lease_owner')
    for (const leaseOwner of owners.filter(isDead))
      freed += await db(table)
        .where({ leaseOwner })
        .whereNotNull('lease_until')
        .update({ leaseUntil: new Date(0).toISOString() })
  }
  return freed
}
