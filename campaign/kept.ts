import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { checkChain } from '@/data'
import { readBackupState } from '@/usecases/backups/backupState'
import { backupHouse } from '@/usecases/backups/house'
import { inspectHere } from '@/usecases/backups/inspectCopy'
import { keysToOpen } from '@/usecases/backups/keys'
import { chosenBackup, restoreBooks, storedBackups } from '@/usecases/backups/restore'
import type { House } from './house'

/**
 * What is kept besides the books: the chain of the audit, and the backups, which are restored elsewhere and counted.
 */
export async function compareKept(house: House): Promise<string[]> {
  const faults: string[] = []
  const { wrong } = await checkChain(house.db)
  if (wrong) faults.push(`audit: line ${wrong.seq}: ${wrong.why}`)
  // Backups are of the file.
  if (!house.processes.includes('keeper')) return faults
  // Nothing is written any more; the keeper has the last of it within seconds.
  await house.kill('worker')
  await house.kill('server')
  const since = Date.now()
  let told = ''
  for (let waited = 0; waited < 600; waited++) {
    const state = readBackupState(house.folder)
    told = JSON.stringify(state)
    if (state?.newest && state.waiting === 0 && Date.parse(state.until ?? '') > since + 2000) break
    if (waited === 599) faults.push(`backups: not caught up after five minutes: ${told}`)
    await new Promise((resolve) => setTimeout(resolve, 500))
  }
  const elsewhere = mkdtempSync(join(tmpdir(), 'gharry-campaign-restored-'))
  try {
    writeFileSync(join(elsewhere, 'backup.key'), readFileSync(join(house.folder, 'backup.key')))
    const there = backupHouse({ GHARRY_DATA: elsewhere, GHARRY_BACKUPS: house.backups })
    const keys = keysToOpen(there)
    const place = there.place!
    const found = await storedBackups(there, place, keys, (odd) => faults.push(`backups: ${odd}`))
    const restored = await restoreBooks(there, {
      ...{ place, keys, chosen: chosenBackup(found, {}), say: () => undefined },
      inspect: inspectHere,
    })
    for (const table of ['orders', 'labels', 'posts', 'notices', 'ledger', 'audit', 'order_log'] as const) {
      const [{ n }] = (await house.db(table).count({ n: '*' })) as [{ n: number }]
      if (restored.tables[table] !== Number(n))
        faults.push(`backups: ${restored.tables[table] ?? 'no'} rows of ${table} come back, the books have ${n}`)
    }
  } catch (error) {
    faults.push(`backups: ${String(error)}`)
  } finally {
    rmSync(elsewhere, { recursive: true, force: true })
  }
  return faults
}
