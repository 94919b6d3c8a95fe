import { spawn, spawnSync } from 'node:child_process'
import { once } from 'node:events'
import { isDead, newOwner } from './leaseOwners'

/** The name under which another process of this machine would hold something. */
function ownerOf(pid: number, began = ''): string {
  const own = newOwner()
  const [place] = JSON.parse(own.slice(0, own.lastIndexOf(']') + 1)) as [string, number, string]
  return `${JSON.stringify([place, pid, began])}x`
}

test('each name is another one, of a process that lives', () => {
  expect(newOwner()).not.toBe(newOwner())
  expect(isDead(newOwner())).toBe(false)
})

test('a process that ended is dead, one that runs is not, and one of its number that began later is another one', async () => {
  expect(isDead(ownerOf(spawnSync('true').pid))).toBe(true)
  const child = spawn('sleep', ['60'])
  expect(isDead(ownerOf(child.pid!))).toBe(false)
  expect(isDead(ownerOf(child.pid!, '1'))).toBe(true)
  child.kill('SIGKILL')
  await once(child, 'exit')
  expect(isDead(ownerOf(child.pid!))).toBe(true)
})

test('of another machine, container or start of this one nothing is known', () => {
  const [, pid] = [0, spawnSync('true').pid]
  for (const place of ['elsewhere', '']) expect(isDead(`${JSON.stringify([place, pid, ''])}x`)).toBe(false)
  expect(isDead('a name of before')).toBe(false)
})
