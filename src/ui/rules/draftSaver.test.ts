import fc from 'fast-check'
import type { Rulebook } from '@/core/rulebook/language'
import { draftSaver, type DraftSaver, type SaveState } from './draftSaver'

const draft = (name: string): Rulebook => ({ name, groups: [], rules: [] })
const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms))
/** Waits until it is so; a test that waits too long fails by its own time. */
const until = async (so: () => boolean): Promise<void> => {
  while (!so()) await pause(1)
}

/** A server that keeps one draft, as slowly and as badly as `answers` says; somebody else may save in between. */
class Server {
  revision = 1
  kept = draft('first')
  asked = 0
  open = 0
  most = 0

  constructor(private readonly answers: readonly { ms: number; fails: boolean }[]) {}

  put = async (next: Rulebook, against: number): Promise<{ revision: number; findings: [] }> => {
    const { ms, fails } = this.answers[this.asked++] ?? { ms: 0, fails: false }
    this.most = Math.max(this.most, ++this.open)
    await pause(ms)
    this.open--
    if (fails) throw new Error('The line is down.')
    if (against !== this.revision) throw new Error('draft-changed')
    this.kept = next
    return { revision: ++this.revision, findings: [] }
  }
}

interface Screen {
  saver: DraftSaver
  states: SaveState[]
  problem: () => string
}

function screen(server: Server): Screen {
  const states: SaveState[] = []
  let problem = ''
  const trouble = (error: unknown): { sentence: string; conflict: boolean; again: boolean } => {
    const { message } = error as Error
    return { sentence: message, conflict: message === 'draft-changed', again: message !== 'draft-changed' }
  }
  const saver = draftSaver(
    1,
    server.put,
    trouble,
    (told) => {
      if (told.state) states.push(told.state)
      if (told.problem !== undefined) problem = told.problem
    },
    2,
  )
  return { saver, states, problem: () => problem }
}

test('edits in any rhythm, on a slow and faulty line: the last one is what is kept, one request at a time', async () => {
  const edit = fc.record({
    wait: fc.integer({ min: 0, max: 6 }),
    ms: fc.integer({ min: 0, max: 5 }),
    fails: fc.boolean(),
  })
  await fc.assert(
    fc.asyncProperty(fc.array(edit, { minLength: 1, maxLength: 12 }), async (edits) => {
      const server = new Server(edits)
      const { saver, states } = screen(server)
      for (const [i, { wait }] of edits.entries()) {
        saver.want(draft(`edit ${i}`))
        await pause(wait)
      }
      // Whatever failed is tried again by itself.
      for (let i = 0; i < 200 && saver.busy(); i++) await pause(5)
      expect(server.kept.name).toBe(`edit ${edits.length - 1}`)
      expect(saver.revision()).toBe(server.revision)
      expect(server.most).toBe(1)
      expect(states.at(-1)).toBe('saved')
    }),
    { numRuns: 40 },
  )
}, 60_000)

test('an edit that comes while an earlier one is on its way is saved, and so is the next', async () => {
  const server = new Server([{ ms: 6, fails: false }])
  const { saver } = screen(server)
  saver.want(draft('one'))
  await pause(4)
  saver.want(draft('two'))
  await pause(30)
  saver.want(draft('three'))
  await pause(30)
  expect(server.kept.name).toBe('three')
  expect(saver.busy()).toBe(false)
})

test('before publishing, what was typed last is saved at once; what cannot be saved is said, and kept', async () => {
  const server = new Server([
    { ms: 1, fails: false },
    { ms: 1, fails: true },
  ])
  const { saver, problem } = screen(server)
  expect(await saver.settled()).toBe(1)
  saver.want(draft('one'))
  expect(await saver.settled()).toBe(2)
  saver.want(draft('two'))
  expect(await saver.settled()).toBeNull()
  expect(problem()).toBe('The line is down.')
  expect(await saver.settled()).toBe(3)
  expect(problem()).toBe('')
  expect(server.kept.name).toBe('two')
})

test('two people on one draft: the second is told, overwrites nothing, and goes on from what the first saved', async () => {
  const server = new Server([])
  const { saver, states, problem } = screen(server)
  await server.put(draft('theirs'), 1)
  saver.want(draft('mine'))
  await pause(60)
  expect(server.kept.name).toBe('theirs')
  expect(states.at(-1)).toBe('conflict')
  expect(problem()).toBe('draft-changed')
  expect(saver.busy()).toBe(true)
  // Not again and again by itself.
  expect(server.asked).toBe(2)
  saver.goOnFrom(server.revision)
  expect(saver.busy()).toBe(false)
  saver.want(draft('both'))
  await pause(20)
  expect(server.kept.name).toBe('both')
})

test('a screen that is left tries once more, and then asks no more; what is wanted again is saved again', async () => {
  const server = new Server([
    { ms: 0, fails: true },
    { ms: 0, fails: true },
  ])
  const { saver, states } = screen(server)
  saver.want(draft('half done'))
  await until(() => server.asked === 1)
  saver.leave()
  await until(() => server.asked === 2)
  // Not again and again by itself.
  await pause(80)
  expect(server.asked).toBe(2)
  expect(states[states.length - 1]).toBe('unsaved')
  saver.want(draft('half done'))
  await until(() => server.kept.name === 'half done')
})
