/** @jest-environment jsdom */
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { noticeSteps, type Telling } from '@/core/telling'
import type { ConnectionView } from '@/usecases/intake/connections'
import { de } from './customer/words/de'
import { en } from './customer/words/en'
import { fr } from './customer/words/fr'
import { nl } from './customer/words/nl'
import { pl } from './customer/words/pl'
import { keepSelection, keptSelection } from './dispatch/selection'
import { places, placesFor } from './find/places'
import { inputOf, valuesOf } from './intake/connections/values'
import { keysOf } from './line/screenKeys'
import { daysLate, needsInOrder, needWords, silence } from './tracking/board/needs'
import { planLines, stepWords, whoText } from './tracking/notices/noticeWords'

const languages = { en, nl, de, fr, pl }

/** All texts of a language by their keys. */
function textsOf(texts: object, before = ''): Map<string, string> {
  const found = new Map<string, string>()
  for (const [key, value] of Object.entries(texts) as [string, string | object][])
    if (typeof value === 'string') found.set(before + key, value)
    else for (const [more, text] of textsOf(value, `${before}${key}.`)) found.set(more, text)
  return found
}
const namesIn = (text: string): string[] => [...text.matchAll(/\{(\w+)/g)].map(([, name]) => name!).sort()

test('what the customer reads says the same in all languages: each text is there, with the same names in it', () => {
  const english = textsOf(en)
  expect(english.size).toBeGreaterThan(60)
  for (const [language, texts] of Object.entries(languages)) {
    const own = textsOf(texts)
    expect([language, [...own.keys()].sort()]).toEqual([language, [...english.keys()].sort()])
    for (const [key, text] of own) {
      expect([language, key, text.trim() === '' ? 'empty' : 'said']).toEqual([language, key, 'said'])
      expect([language, key, [...new Set(namesIn(text))]]).toEqual([
        language,
        key,
        [...new Set(namesIn(english.get(key)!))],
      ])
    }
  }
})

test('no language was left in English where words are several', () => {
  for (const [language, texts] of Object.entries(languages).filter(([name]) => name !== 'en')) {
    const same = [...textsOf(texts)].filter(([key, text]) => / .* /.test(text) && text === textsOf(en).get(key))
    expect([language, same]).toEqual([language, []])
  }
})

describe('places that can be found', () => {
  test('each is a screen that exists', () => {
    for (const { href } of places) {
      const path = href.split('?')[0]!
      const folders = ['src/app/(screens)', 'src/app/(line)', 'src/app'].map((root) =>
        join(process.cwd(), root, path, 'page.tsx'),
      )
      expect([href, folders.some((file) => existsSync(file))]).toEqual([href, true])
    }
  })
  test.each([
    ['late', 'Late parcels'],
    ['warehouses', 'Locations'],
    ['top inv', 'Balance'],
    ['packing sl', 'Packing slips'],
    ['SMS', 'Notices'],
  ])('“%s” finds %s', (text, name) => expect(placesFor(text)[0]?.name).toBe(name))
  test('nothing typed, or words that are nowhere together, find nothing', () => {
    expect(placesFor('  ')).toEqual([])
    expect(placesFor('late warehouses')).toEqual([])
    expect(placesFor('a').length).toBeLessThanOrEqual(6)
  })
})

test('each screen says its own keys first, and those of everywhere but once', () => {
  expect(keysOf('/desk')[0]).toEqual(['↑ ↓', expect.any(String)])
  expect(keysOf('/dispatch/slips').map(([key]) => key)).toEqual(['Enter', 'Tab', 'Alt 1 … 6', 'Ctrl K', '?'])
  expect(keysOf('/setup/carriers')).toHaveLength(4)
  for (const path of ['/intake', '/rules', '/desk', '/dispatch', '/tracking', '/ledger', '/intake/items']) {
    const keys = keysOf(path).map(([key]) => key)
    expect([path, new Set(keys).size]).toEqual([path, keys.length])
    expect(keys).toContain('?')
  }
  expect(keysOf('/rules').find(([key]) => key === 'Tab')![1]).toContain('take what was typed')
})

describe('the board', () => {
  const now = '2026-11-30T12:00:00Z'
  test('each need has words of its own, the most urgent first', () => {
    expect(needsInOrder[0]).toBe('lost')
    expect(new Set(needsInOrder.map((need) => needWords[need].name)).size).toBe(needsInOrder.length)
  })
  test.each([
    [null, 0],
    ['2026-11-30', 0],
    ['2026-12-05', 0],
    ['2026-11-29', 1],
    ['2026-10-30', 31],
  ])('due %s it is %s days late', (due, days) => expect(daysLate({ due }, now)).toBe(days))
  test.each([
    ['2026-11-30T11:59:00Z', '0 h'],
    ['2026-11-28T13:00:00Z', '47 h'],
    ['2026-11-28T12:00:00Z', '2 d'],
    ['2026-12-01T12:00:00Z', '0 h'],
  ])('heard of at %s it is silent for %s', (statusAt, text) => expect(silence({ statusAt }, now)).toBe(text))
})

test('a plan of notices is read line by line, each step and medium with who is told', () => {
  const nobody: Telling = { on: false, channels: [], countries: [], languages: [] }
  const plan = {
    steps: Object.fromEntries(
      noticeSteps.map((step) => [
        step,
        { mail: { ...nobody, on: true }, text: { ...nobody, on: true, countries: ['BE'] } },
      ]),
    ),
    waits: 30,
    quiet: { from: '21:00', until: '08:00' },
    texts: [{ step: 'delivered', medium: 'mail', language: 'nl', channel: '', subject: 'Er', body: 'x'.repeat(200) }],
  } as never
  const lines = planLines(plan)
  expect(lines).toHaveLength(2 * noticeSteps.length + 3)
  expect(lines[0]).toBe(`${stepWords[noticeSteps[0]]}, by mail: everybody`)
  expect(lines[1]).toMatch(/by text message: some BE$/)
  expect(lines).toContain('wait 30 minutes')
  expect(lines.at(-1)).toBe(`delivered: mail: nl: Er: ${'x'.repeat(120)}`)
  expect(whoText(nobody)).toBe('nobody')
})

describe('a connection', () => {
  const view = {
    ...{
      id: 'shop',
      role: 'channel',
      kind: 'keyed-shop',
      name: 'The shop',
      on: false,
      settings: { url: 'https://shop.example' },
    },
    channel: {
      tellWhen: 'dispatched',
      everyMinutes: 15,
      fromDay: '2026-11-01',
      statuses: 'paid',
      places: '',
      mailBuyers: false,
      currency: 'GBP',
      language: 'nl',
    },
  } as unknown as ConnectionView
  test('put into its form and read again it is the same', () => {
    expect(inputOf(valuesOf(view, ''), 'channel', 3)).toEqual({
      ...{ role: 'channel', kind: 'keyed-shop', name: 'The shop', on: false, version: 3 },
      ...{ settings: view.settings, channel: view.channel },
    })
  })
  test('a new one is on, asks each five minutes, and begins with all there is', () => {
    const made = inputOf(valuesOf(undefined, 'keyed-shop'), 'channel', undefined)
    expect(made).not.toHaveProperty('version')
    expect(made).toMatchObject({ on: true, channel: { everyMinutes: 5, fromDay: null, tellWhen: 'bought' } })
  })
  test('of a carrier: no channel, its locations, and no limit where none is typed', () => {
    const values = { ...valuesOf(undefined, 'json-labels', 'heron'), locations: ['ghent'], perSecond: ' ' }
    expect(inputOf(values, 'carrier', undefined)).toMatchObject({
      carrier: 'heron',
      locations: ['ghent'],
      perSecond: null,
    })
    expect(inputOf({ ...values, perSecond: '12' }, 'carrier', undefined)).toMatchObject({ perSecond: 12 })
    expect(inputOf(values, 'carrier', undefined)).not.toHaveProperty('channel')
  })
})

test('orders on their way from the Desk to Dispatch outlive a reload; what is no list of orders is none', () => {
  expect(keptSelection()).toEqual([])
  keepSelection([3, 1, 2])
  expect(keptSelection()).toEqual([3, 1, 2])
  for (const odd of ['{', '7', '["a", 1, null, 2.5]']) {
    sessionStorage.setItem('gharry selection', odd)
    expect([odd, keptSelection()]).toEqual([odd, odd.startsWith('[') ? [1] : []])
  }
})
