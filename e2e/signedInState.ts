import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { e2ePorts } from './ports'

/** Where the sign-in of the operations lead is kept while the tests run. */
export const signedInState = join(tmpdir(), `gharry-signed-in-${e2ePorts.GHARRY_PORT}.json`)
