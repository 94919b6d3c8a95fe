import type { BenchView } from '@/usecases/dispatch/bench/benchView'
import { afterScan, afterTakenOut, afterView, type BenchState, emptyBench, isFinished } from './benchState'

const view = (more: Partial<BenchView> = {}): BenchView => ({
  ...{ check: 7, state: 'open', order: 1, number: 'MG-1', to: 'Ada, Gent', label: 3, service: 'Heron Road' },
  parcel: {
    lines: [
      { sku: 'A', title: 'A plant', quantity: 12, gtins: [] },
      { sku: 'B', title: 'A net', quantity: 1, gtins: [] },
    ],
    own: ['MG-1', 'CP1'],
    ...{ position: 1, of: 1, preset: 'Box', trackingNumber: 'CP1' },
  },
  ...{ watch: [], inserts: [], counted: [0, 0], computed: 900, weighed: false, weight: null },
  ...more,
})
let n = 0
const scan = (state: BenchState, text: string): BenchState => {
  const step = afterScan(state, text, `key ${++n}`, '2026-11-28T10:00:00.000Z')
  if (step.do === 'open') throw new Error(`${step.code} is to be opened`)
  return step.state
}
const begun = (more: Partial<BenchView> = {}): BenchState => afterView(emptyBench, view(more), true)

test('a scan with nothing open opens', () => {
  expect(afterScan(emptyBench, ' MG-1\r', 'k', '')).toEqual({ do: 'open', code: 'MG-1' })
  expect(begun().said).toMatchObject({ words: 'MG-1', more: '13 items to scan' })
})

test('a quantity that is typed counts for the next scan alone', () => {
  const typed = scan(begun(), '11')
  expect(typed.typed).toBe(11)
  const after = scan(typed, 'a')
  expect([after.counted, after.typed]).toEqual([[11, 0], null])
  expect(after.kept).toMatchObject([{ check: 7, code: 'a', typed: 11 }])
  expect(scan(after, 'A').counted).toEqual([12, 0])
})

test('a wrong item stops everything until it is out, or the parcel’s own slip is scanned', () => {
  const wrong = scan(begun(), 'X')
  expect(wrong).toMatchObject({ stopped: true, said: { tone: 'wrong' } })
  const still = scan(wrong, 'B')
  expect([still.stopped, still.counted, still.kept.length]).toEqual([true, [0, 0], 1])
  expect(scan(afterTakenOut(wrong), 'B').counted).toEqual([0, 1])
  expect(scan(wrong, 'CP1')).toMatchObject({ stopped: false })
  expect(scan(scan(begun(), 'B'), 'B')).toMatchObject({ stopped: true, said: { words: 'Too many: A net' } })
})

test('a parcel is finished once all is in it, and weighed where it has to be; then the next scan opens another one', () => {
  const whole = scan(scan(scan(begun(), '12'), 'A'), 'B')
  expect(isFinished(whole)).toBe(true)
  expect(whole.said.tone).toBe('done')
  expect(afterScan(whole, 'MG-2', 'k', '')).toEqual({ do: 'open', code: 'MG-2' })
  const unweighed = scan(scan(scan(begun({ weighed: true }), '12'), 'A'), 'B')
  expect(isFinished(unweighed)).toBe(false)
  expect(
    isFinished(afterView({ ...unweighed, kept: [] }, view({ weighed: true, weight: 910, counted: [12, 1] }))),
  ).toBe(true)
})

test('while scans wait to be sent, what the screen has counted stands; then what the server says', () => {
  const ahead = scan(begun(), 'B')
  expect(afterView(ahead, view({ counted: [0, 0] })).counted).toEqual([0, 1])
  expect(afterView({ ...ahead, kept: [] }, view({ counted: [3, 1] })).counted).toEqual([3, 1])
})
