import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { openApplication } from '@/usecases/shared/application'
import { asWhoAsks, unlessMayCall } from '@/usecases/people/atTheDoor'
import { wantsTwo } from '@/usecases/people/proposals'
import { whoIs } from '@/usecases/people/signedIn'
import { showLine } from '@/usecases/shared/showLine'
import { summary, type Times, timed } from './desk'
import { signedInOwner } from './owner'

/**
 * A call with all that the door asks (who it is, whether they may, whether it wants two), and the same without; in
 * turns, milliseconds.
 */
export async function benchDoor(calls: number): Promise<{ readonly byTheDoor: Times; readonly without: Times }> {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-door-'))
  const gharry = await openApplication({ GHARRY_DATA: folder, GHARRY_LOG: 'silent' })
  try {
    const secret = await signedInOwner(gharry)
    const call = { endpoint: 'GET /api/line', params: {} }
    const from = { address: '192.0.2.1', agent: '', request: 'bench' }
    const work = async (): Promise<{ readonly ok: true }> => {
      await showLine(gharry)
      return { ok: true }
    }
    const [byTheDoor, without]: [number[], number[]] = [[], []]
    for (let i = 0; i < calls; i++) {
      byTheDoor.push(
        await timed(async () => {
          const person = await whoIs(gharry, secret)
          if (unlessMayCall(call.endpoint, person) || (await wantsTwo(gharry, call.endpoint))) throw new Error('barred')
          await asWhoAsks(gharry, call, person, from, work)
        }),
      )
      without.push(await timed(work))
    }
    // The first ones find nothing prepared.
    return { byTheDoor: summary(byTheDoor.slice(calls / 10)), without: summary(without.slice(calls / 10)) }
  } finally {
    await gharry.close()
    rmSync(folder, { recursive: true, force: true })
  }
}
