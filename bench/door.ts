import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { NextRequest } from 'next/server'
import { openApplication } from '@/usecases/shared/application'
import { summary, type Times, timed } from './desk'
import { signedInOwner } from './owner'
import * as bare from '../src/app/api/line/calls'
import * as door from '../src/app/api/[...path]/route'

/** One call by the door, with who asks and whether they may, and the same call without; in turns, milliseconds. */
export async function benchDoor(calls: number): Promise<{ readonly byTheDoor: Times; readonly without: Times }> {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-door-'))
  const gharry = await openApplication({ GHARRY_DATA: folder, GHARRY_LOG: 'silent' })
  try {
    Object.assign(globalThis, { gharryOpen: Promise.resolve(gharry) })
    const cookie = `gharry=${await signedInOwner(gharry)}`
    const request = (): NextRequest => new NextRequest('http://127.0.0.1:4600/api/line', { headers: { cookie } })
    const [byTheDoor, without]: [number[], number[]] = [[], []]
    for (let i = 0; i < calls; i++) {
      byTheDoor.push(await timed(() => door.GET(request(), { params: Promise.resolve({ path: ['line'] }) })))
      without.push(await timed(() => bare.GET(request(), { params: Promise.resolve({}) })))
    }
    // The first ones find nothing prepared.
    return { byTheDoor: summary(byTheDoor.slice(calls / 10)), without: summary(without.slice(calls / 10)) }
  } finally {
    Object.assign(globalThis, { gharryOpen: undefined })
    await gharry.close()
    rmSync(folder, { recursive: true, force: true })
  }
}
