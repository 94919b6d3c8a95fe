import { onceIn } from '@/usecases/shared/onceIn'
import { makeRig, type Rig } from './rig'

let rig: Rig
afterEach(() => rig.close())

test('what is read once in a transaction is asked of the books once, each time outside of one', async () => {
  rig = await makeRig()
  const { db } = rig.gharry
  const asked: string[] = []
  db.on('query', ({ sql }: { readonly sql: string }) => void (sql.includes('channels') && asked.push(sql)))
  const channel = (of: typeof db): Promise<unknown> =>
    onceIn(of, 'a channel', () => of('channels').first() as unknown as Promise<unknown>)
  const [first, second] = await db.transaction(async (trx) => [await channel(trx), await channel(trx)])
  expect(first).toMatchObject({ id: 'mossgill-shop' })
  expect(second).toBe(first)
  expect(asked).toHaveLength(1)
  await channel(db)
  await channel(db)
  expect(asked).toHaveLength(3)
})
