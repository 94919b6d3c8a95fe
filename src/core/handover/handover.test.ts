import fc from 'fast-check'
import { readCode } from '@/core/bench'
import {
  atDoor,
  type AtDoor,
  containerCode,
  type Door,
  isContainerCode,
  mostUnits,
  ssccOf,
  strokesSchema,
} from './index'

const parcel: AtDoor = {
  ...{ number: 'N1', order: 'O-1', carrier: 'heron', location: 'ghent', state: 'bought' },
  ...{ checked: true, flag: null, underWay: false, manifest: null },
}
const door: Door = { carrier: 'heron', location: 'ghent', manifest: 7, mustBeChecked: true }
const at = (more: Partial<AtDoor>, of: Partial<Door> = {}) =>
  atDoor({ ...parcel, ...more }, { ...door, ...of }, (id) => id)

describe('at the door', () => {
  test('what may leave is right, and what was scanned before is no mistake', () => {
    expect(at({})).toEqual({ verdict: 'right' })
    expect(at({ manifest: 7 })).toEqual({ verdict: 'again' })
    expect(at({ checked: false }, { mustBeChecked: false })).toEqual({ verdict: 'right' })
  })

  test.each([
    [{ state: 'voided' }, 'Label voided'],
    [{ state: 'voiding' }, 'Label voided'],
    [{ state: 'queued' }, 'Not bought'],
    [{ carrier: 'corvid' }, 'Wrong carrier: corvid'],
    [{ location: 'leeds' }, 'Belongs to leeds'],
    [{ manifest: 6 }, 'On manifest M6 already'],
    [{ underWay: true }, 'On its way already'],
    [{ flag: 'The buyer has cancelled.' }, 'The order has changed'],
    [{ checked: false }, 'Not checked'],
  ] as const)('%j is said: %s', (more, words) => {
    expect(at(more)).toMatchObject({ verdict: 'wrong', words })
  })

  test('a parcel of a door that has no manifest yet is never one of it', () => {
    expect(at({ manifest: 7 }, { manifest: null })).toMatchObject({ verdict: 'wrong' })
  })
})

describe('codes of containers', () => {
  test('each is an SSCC that a scanner reads back, and no two of a prefix are the same', () => {
    const prefix = fc.integer({ min: 4, max: 12 }).chain((length) => fc.stringMatching(new RegExp(`^\\d{${length}}$`)))
    fc.assert(
      fc.property(prefix, fc.nat(1_000_000), (digits, serial) => {
        const sscc = ssccOf(digits, serial)
        expect(sscc).toHaveLength(18)
        expect(readCode(`00${sscc}`)).toEqual({ kind: 'unit', sscc })
        const next = ssccOf(digits, serial + 1)
        expect(next === sscc).toBe(mostUnits(digits) === 1)
      }),
    )
  })

  test('what is no company prefix is refused', () => {
    expect(() => ssccOf('12', 1)).toThrow('4 to 12 digits')
    expect(() => ssccOf('54a', 1)).toThrow('4 to 12 digits')
  })

  test('codes of the house are told from other codes', () => {
    expect(isContainerCode(containerCode(12, 3))).toBe(true)
    expect(isContainerCode('T12-3')).toBe(false)
  })
})

test('half a point, and points beyond the field, are no signature', () => {
  expect(strokesSchema.safeParse([[0, 0, 1000, 300]]).success).toBe(true)
  expect(strokesSchema.safeParse([[0, 0, 1]]).success).toBe(false)
  expect(strokesSchema.safeParse([[0, 1001]]).success).toBe(false)
})
