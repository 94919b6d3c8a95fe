import type { BenchView } from '@/usecases/dispatch/bench/benchView'
import {
  afterGone,
  afterScan,
  afterStranger,
  afterTakenOut,
  afterTurn,
  afterView,
  type BenchState,
  emptyBench,
  isFinished,
  placedIn,
  places,
} from './benchState'

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
  ...{ watch: [], inserts: [], counted: [0, 0], computed: 900, weighed: false, weight: null, pictures: {} },
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

describe('several parcels at once', () => {
  const parcel = (check: number, lines: readonly (readonly [sku: string, quantity: number])[]): BenchView =>
    view({
      ...{ check, number: `MG-${check}`, counted: lines.map(() => 0) },
      parcel: {
        lines: lines.map(([sku, quantity]) => ({ sku, title: sku, quantity, gtins: [] })),
        own: [`MG-${check}`],
        ...{ position: 1, of: 1, preset: 'Box', trackingNumber: '' },
      },
    })
  const first = parcel(1, [['A', 2]])
  const second = parcel(2, [
    ['B', 1],
    ['A', 1],
  ])
  const opened = (): BenchState => afterView(afterView({ ...emptyBench, several: true }, first, true), second, true)
  const inside = (state: BenchState) =>
    Object.fromEntries(placedIn(state).map(({ place, counted }) => [place, counted]))

  test('each has a place; an item goes to the first place that wants it, and the letter says which', () => {
    const two = opened()
    expect(two.said.words).toBe('B: MG-2')
    expect(placedIn(two).map(({ place, view: { number } }) => `${place} ${number}`)).toEqual(['A MG-1', 'B MG-2'])
    const once = scan(two, 'A')
    expect([once.place, once.said.words, inside(once)]).toEqual(['A', 'A: A', { A: [1], B: [0, 0] }])
    const three = scan(scan(once, 'A'), 'A')
    expect([three.said.words, inside(three), three.kept.map(({ check }) => check)]).toEqual([
      'B: A',
      { B: [0, 1] },
      [1, 1, 2],
    ])
    // A was complete and its place is free again: the next parcel lies there.
    expect(afterView(three, parcel(3, [['C', 1]]), true).place).toBe('A')
  })

  test('what none of them knows may be another slip; where it is not, all stops until it is away', () => {
    expect(afterScan(opened(), 'X', 'k', '')).toMatchObject({ do: 'open', code: 'X' })
    const strange = afterStranger(opened(), 'X', 'k', '')
    expect([strange.stopped, strange.said.tone, strange.said.more]).toEqual([
      true,
      'wrong',
      'X is for none of A, B. Take it away.',
    ])
    expect(scan(strange, 'B').said.tone).toBe('wrong')
    expect(afterTurn(strange, 'A').place).toBe('B')
    expect(scan(afterTakenOut(strange), 'B').counted).toEqual([1, 0])
    const surplus = scan(scan(opened(), 'B'), 'B')
    expect(surplus).toMatchObject({ stopped: true, place: 'B', said: { words: 'B: Too many: B' } })
  })

  test('a slip of one that is open shows it, and opens it no second time; put aside, the next one is shown', () => {
    const shown = scan(opened(), 'MG-1')
    expect([shown.place, shown.said.words]).toEqual(['A', 'A: MG-1: this parcel'])
    expect(placedIn(afterView(shown, second, true))).toHaveLength(2)
    const gone = afterGone(shown)
    expect([gone.view?.check, gone.place, gone.others]).toEqual([2, 'B', []])
    expect(afterGone(gone)).toMatchObject({ view: null, place: 'A' })
  })

  test('what the server says goes to its parcel, whichever is shown; more than the places hold are not opened', () => {
    const heard = afterView({ ...opened(), kept: [] }, { ...first, counted: [1] })
    expect([heard.view?.check, inside(heard)]).toEqual([2, { A: [1], B: [0, 0] }])
    let full: BenchState = { ...emptyBench, several: true }
    for (const [i] of places.entries()) full = afterView(full, parcel(i + 1, [[`S${i}`, 1]]), true)
    expect(placedIn(full).map(({ place }) => place)).toEqual([...places])
    const step = afterScan(full, 'MG-99', 'k', '')
    expect(step).toMatchObject({ do: 'show', state: { said: { words: 'All places are taken' } } })
  })
})
