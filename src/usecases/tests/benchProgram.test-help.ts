import { openApplication } from '../shared/application'
import { scanItems } from '../dispatch/bench/checkParcel'

/**
 * A server at which a bench sends its scans, as a program that can be killed: all that the screen has kept, in its
 * order, again from the first one at each start. Begun with `node scripts/run.mjs`; the scans are the JSON in
 * GHARRY_TEST_SCANS.
 */
interface Kept {
  readonly check: number
  readonly key: string
  readonly code: string
}
const kept = JSON.parse(process.env.GHARRY_TEST_SCANS ?? '[]') as Kept[]
const gharry = await openApplication()
for (const { check, key, code } of kept) {
  // Nobody scans faster; a fast machine would be done before anything could be killed.
  await new Promise((resolve) => setTimeout(resolve, 20))
  const answer = await scanItems(gharry, {
    check,
    scans: [{ key, code, typed: null, at: gharry.now().toISOString() }],
  })
  if (!answer.ok) throw new Error(answer.sentence)
}
await gharry.close()
