import { request } from '@playwright/test'
import { demoPassword, personOf } from './demoPeople'
import { e2ePorts } from './ports'
import { signedInState } from './signedInState'

/** Before all tests: the operations lead signs in. */
export default async function signIn(): Promise<void> {
  const context = await request.newContext({ baseURL: `http://127.0.0.1:${e2ePorts.GHARRY_PORT}` })
  const answer = await context.post('/api/people/sign-in', {
    data: { email: personOf('lead').email, password: demoPassword },
  })
  if (!answer.ok()) throw new Error(`The operations lead cannot sign in: ${await answer.text()}`)
  await context.storageState({ path: signedInState })
  await context.dispose()
}
