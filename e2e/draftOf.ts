import { type APIRequestContext, expect } from '@playwright/test'

/** Puts the draft back to an edition, or to the one in force, whatever a test left: others rest on its rules. */
export async function draftOf(request: APIRequestContext, edition?: number): Promise<void> {
  // A page that is still open may save meanwhile.
  await expect(async () => {
    const view = (await (await request.get('/api/rules/rulebook')).json()) as {
      revision: number
      inForce: { number: number }
    }
    const data = { edition: edition ?? view.inForce.number, revision: view.revision }
    expect((await request.post('/api/rules/rulebook/restore', { data })).status()).toBe(200)
  }).toPass()
}
