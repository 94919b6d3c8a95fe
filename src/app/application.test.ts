import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { openingProblem, theApplication } from './application'

test('an opening that failed is not kept: what was in the way is said, and the next call opens', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'gharry-test-'))
  // A file stands where the data folder should be.
  const data = join(folder, 'data')
  writeFileSync(data, '')
  process.env.GHARRY_DATA = data
  await expect(theApplication()).rejects.toThrow()
  expect(openingProblem()).toMatch(/\.$/)
  rmSync(data)
  const gharry = await theApplication()
  expect(openingProblem()).toBeUndefined()
  expect(await theApplication()).toBe(gharry)
  await gharry.close()
  rmSync(folder, { recursive: true, force: true })
})
