import fc from 'fast-check'
import { DateTime } from 'luxon'
import {
  afterQuiet,
  composeNotice,
  contrast,
  facesSchema,
  isOvertaken,
  isTold,
  languageOf,
  languages,
  leastContrast,
  mediums,
  mobileNumber,
  noticePlanSchema,
  noticeSteps,
  preferredLanguage,
  problemOf,
  readable,
  sampleFacts,
  smsWeight,
  usualFace,
  usualFaces,
  usualPlan,
  usualText,
} from './index'

describe('the usual words', () => {
  test.each(noticeSteps)('“%s” can be said in every language by every medium, with nothing left open', (step) => {
    for (const language of languages)
      for (const medium of mediums) {
        const said = composeNotice(step, medium, language, sampleFacts)
        expect(said.text).toContain(sampleFacts.order.number)
        expect(said.text).toContain(sampleFacts.link)
        expect(said.text).not.toMatch(/\{\{|\}\}|\{%|undefined| ,/)
        if (medium === 'mail') expect(said.subject).toContain(sampleFacts.order.number)
        expect(said.language).toBe(language)
      }
  })

  test('a text message of the usual words is one part where its alphabet allows', () => {
    for (const step of noticeSteps)
      for (const language of ['en', 'nl'] as const)
        expect(smsWeight(composeNotice(step, 'text', language, sampleFacts).text).parts).toBeLessThan(3)
  })

  test('nothing is said of a day or a place that nobody knows', () => {
    const said = composeNotice('label made', 'mail', 'en', { ...sampleFacts, day: '', place: '' })
    expect(said.text).not.toContain('should be with you')
    expect(composeNotice('label made', 'mail', 'de', { ...sampleFacts, buyer: { name: '' } }).text).toContain(
      'Guten Tag,',
    )
  })

  test('of some of several parcels it says which', () => {
    expect(composeNotice('delayed', 'mail', 'en', sampleFacts).text).toContain('This is about parcel 1 of 2.')
    const all = { ...sampleFacts, parcels: { numbers: ['A', 'B'], positions: [1, 2], of: 2 } }
    expect(composeNotice('delayed', 'mail', 'en', all).text).not.toContain('This is about')
  })
})

describe('words of the seller’s own that are wrong', () => {
  const wrong = (body: string): string | null =>
    problemOf('delivered', 'mail', 'en', sampleFacts, { subject: 'S', body })
  test.each([
    ['an endless loop', '{% for i in (1..99999999) %}x{% endfor %}', /range/],
    [
      'loops in loops',
      '{% for i in (1..900) %}{% for j in (1..900) %}{% for k in (1..900) %}{% endfor %}{% endfor %}{% endfor %}',
      /limit|too long/,
    ],
    ['a placeholder that there is none of', 'Hello {{ order.colour }}', /undefined variable/],
    ['something that is not closed', 'Hello {{ order.number', /not closed/],
    ['a file', '{% include "/etc/passwd" %}', /there is no/],
    ['nothing', '   ', /comes out empty/],
    ['more than can be read', `${'x'.repeat(200_000)}`, /limit/],
  ])('%s', (_what, body, said) => expect(wrong(body)).toMatch(said))

  test('it is said in the usual words, and why', () => {
    const said = composeNotice('delivered', 'mail', 'fr', sampleFacts, { subject: 'S', body: '{{ nothing }}' })
    expect(said.subject).toBe('Votre commande M-1042 est arrivée')
    expect(said.problem).toMatch(/undefined variable/)
  })

  test('a subject stays one line, whatever an order’s texts hold', () => {
    const facts = { ...sampleFacts, order: { ...sampleFacts.order, number: 'M-1\r\nBcc: a@b.example' } }
    const said = composeNotice('delivered', 'mail', 'en', facts, { subject: '{{ order.number }}', body: 'Hello' })
    expect(said.subject).not.toMatch(/[\r\n]/)
  })

  test('a subject of two lines and a text of 1 MB are refused before they are kept', () => {
    const text = { step: 'delivered', medium: 'mail', language: 'en', channel: '', subject: 'S', body: 'B' }
    const of = (change: object) => noticePlanSchema.safeParse({ ...usualPlan, texts: [{ ...text, ...change }] }).success
    expect(of({})).toBe(true)
    expect(of({ subject: 'one\ntwo' })).toBe(false)
    expect(of({ subject: 'one\u2028two' })).toBe(false)
    expect(of({ body: 'x'.repeat(1_000_000) })).toBe(false)
  })

  test('right-to-left text comes through as it is', () => {
    const body = 'שלום {{ buyer.firstName }} \u202e{{ order.number }}'
    const said = composeNotice('delivered', 'mail', 'en', sampleFacts, { subject: 'מכתב', body })
    expect(said.text).toContain('שלום Ada')
    expect(said.subject).toBe('מכתב')
  })
})

test('a text message: 160 signs of the small alphabet are one, 161 two; one sign beyond it halves the room', () => {
  expect(smsWeight('a'.repeat(160))).toMatchObject({ parts: 1, alphabet: 'GSM-7' })
  expect(smsWeight('a'.repeat(161)).parts).toBe(2)
  expect(smsWeight('a'.repeat(153 * 2)).parts).toBe(2)
  expect(smsWeight(`${'a'.repeat(69)}ł`)).toMatchObject({ parts: 1, alphabet: 'UCS-2', costly: ['ł'] })
  expect(smsWeight(`${'a'.repeat(70)}ł`).parts).toBe(2)
  // The euro sign is of the extension table: two.
  expect(smsWeight('€'.repeat(80)).parts).toBe(1)
  expect(smsWeight('€'.repeat(81)).parts).toBe(2)
})

test('nobody is written to in quiet hours, and nothing waits longer than they last', () => {
  const clock = fc
    .tuple(fc.nat(23), fc.nat(59))
    .map(([h, m]) => `${String(h).padStart(2, '0')}:${String(m).padStart(2, '0')}`)
  const zones = fc.constantFrom('Europe/Brussels', 'America/New_York', 'Asia/Kolkata', 'Pacific/Auckland', 'UTC')
  fc.assert(
    fc.property(
      fc.date({ min: new Date('2026-01-01'), max: new Date('2027-12-31'), noInvalidDate: true }),
      zones,
      clock,
      clock,
      (date, zone, from, until) => {
        const at = date.toISOString()
        const moment = afterQuiet(at, zone, { from, until })
        expect(moment >= at).toBe(true)
        const waited = (Date.parse(moment) - Date.parse(at)) / 3_600_000
        expect(waited).toBeLessThanOrEqual(25)
        const local = DateTime.fromISO(moment, { zone }).toFormat('HH:mm')
        const quiet = from <= until ? local >= from && local < until : local >= from || local < until
        // Where clocks are changed, an end that is not there may be missed by an hour.
        if (waited < 24 && quiet)
          expect(DateTime.fromISO(moment, { zone }).offset).not.toBe(DateTime.fromISO(at, { zone }).offset)
      },
    ),
  )
  // An end that the change of clocks leaves out, when quiet hours have begun again after it.
  expect(afterQuiet('2027-03-14T07:00:00.000Z', 'America/New_York', { from: '02:02', until: '02:01' })).toBe(
    '2027-03-15T06:01:00.000Z',
  )
  expect(afterQuiet('2026-11-28T02:30:00.000Z', 'Europe/Brussels', { from: '21:00', until: '08:00' })).toBe(
    '2026-11-28T07:00:00.000Z',
  )
  expect(afterQuiet('2026-11-28T12:00:00.000Z', 'Europe/Brussels', { from: '21:00', until: '08:00' })).toBe(
    '2026-11-28T12:00:00.000Z',
  )
})

test('who is told: of these channels, in these countries and languages; an empty list is no limit', () => {
  const plan = {
    ...usualPlan,
    steps: {
      ...usualPlan.steps,
      delivered: {
        mail: { on: true, channels: ['shop'], countries: ['BE', 'NL'], languages: [] },
        text: usualPlan.steps.delivered.text,
      },
    },
  }
  const to = { channel: 'shop', country: 'BE', language: 'fr' }
  expect(isTold(plan, 'delivered', 'mail', to)).toBe(true)
  expect(isTold(plan, 'delivered', 'mail', { ...to, channel: 'market' })).toBe(false)
  expect(isTold(plan, 'delivered', 'mail', { ...to, country: 'DE' })).toBe(false)
  expect(isTold(plan, 'delivered', 'text', to)).toBe(false)
})

test('what is overtaken is not said: but the numbers always are, and nothing that went wrong is hushed up but by the delivery', () => {
  expect(isOvertaken('collected', 'out for delivery')).toBe(true)
  expect(isOvertaken('out for delivery', 'collected')).toBe(false)
  expect(isOvertaken('label made', 'collected')).toBe(false)
  expect(isOvertaken('delivery failed', 'out for delivery')).toBe(false)
  expect(isOvertaken('delayed', 'delivered')).toBe(true)
  expect(isOvertaken('coming back', 'delivered')).toBe(false)
  expect(isOvertaken('delayed', 'coming back')).toBe(true)
  expect(isOvertaken('coming back', 'arrived back')).toBe(true)
  expect(isOvertaken('label made', 'coming back')).toBe(false)
})

test.each([
  ['', 'BE', '9000', 'nl'],
  ['', 'BE', '4000', 'fr'],
  ['', 'BE', '1340', 'fr'],
  ['fr-BE', 'BE', '9000', 'fr'],
  ['es', 'ES', '28001', 'en'],
  ['', 'AT', '', 'de'],
  ['', '', '', 'en'],
])('a channel of %p to %s %s reads %s', (channel, country, postcode, language) =>
  expect(languageOf(channel, country, postcode)).toBe(language),
)

test.each([
  ['pl-PL,pl;q=0.9,en;q=0.8', 'pl'],
  ['en;q=0.3, fr;q=0.9', 'fr'],
  ['es, it;q=0.9', 'nl'],
  ['de;q=0', 'nl'],
  ['', 'nl'],
  [';;;,q=,'.repeat(10_000), 'nl'],
])('a browser that prefers %.30s reads %s', (accepted, language) =>
  expect(preferredLanguage(accepted, 'nl')).toBe(language),
)

test.each([
  ['0470 12 34 56', 'BE', '+32470123456'],
  ['+32 470 12 34 56', 'NL', '+32470123456'],
  ['００４７０１２３４５６', 'BE', null],
  ['０４７０ １２ ３４ ５６', 'BE', '+32470123456'],
  ['09 234 56 78', 'BE', null],
  ['+00 555 1234', 'BE', null],
  ['call me', 'BE', null],
  ['<script>', '', null],
  ['1'.repeat(1000), 'BE', null],
])('the telephone number %.20s in %s', (typed, country, number) => expect(mobileNumber(typed, country)).toBe(number))

describe('the seller’s colours', () => {
  const colour = fc.integer({ min: 0, max: 0xffffff }).map((n) => `#${n.toString(16).padStart(6, '0').toUpperCase()}`)
  // WCAG 2.2, relative luminance, written down a second time.
  const luminance = (hex: string): number => {
    const [r, g, b] = [1, 3, 5].map((at) => {
      const part = parseInt(hex.slice(at, at + 2), 16) / 255
      return part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4
    }) as [number, number, number]
    return 0.2126 * r + 0.7152 * g + 0.0722 * b
  }
  const ratio = (a: string, b: string): number => {
    const [high, low] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number]
    return (high + 0.05) / (low + 0.05)
  }
  test('whatever is chosen, what is shown can be read; what can be read already stays', () => {
    fc.assert(
      fc.property(colour, colour, colour, (accent, paper, ink) => {
        const shown = readable({ accent, paper, ink })
        expect(shown.paper).toBe(paper)
        for (const text of [shown.accent, shown.ink])
          expect(ratio(text, paper)).toBeGreaterThanOrEqual(leastContrast - 0.02)
        expect(ratio(shown.onAccent, shown.accent)).toBeGreaterThanOrEqual(4.5)
        if (ratio(accent, paper) >= leastContrast + 0.02) expect(shown.accent).toBe(accent)
      }),
    )
    expect(contrast('#000000', '#FFFFFF')).toBeCloseTo(21, 1)
  })

  test('a page with scripts in its links or colours is refused', () => {
    const of = (change: object): boolean =>
      facesSchema.safeParse({ ...usualFaces, all: { ...usualFace, ...change } }).success
    expect(of({})).toBe(true)
    expect(of({ links: [{ label: 'x', url: 'javascript:alert(1)' }] })).toBe(false)
    expect(of({ links: [{ label: '', url: 'https://a.example' }] })).toBe(false)
    expect(of({ colours: { ...usualFace.colours, accent: 'red;}body{display:none' } })).toBe(false)
    expect(of({ logo: '../../etc/passwd' })).toBe(false)
    expect(of({ texts: { en: { above: 'x'.repeat(5000), below: '' } } })).toBe(false)
  })
})

test('the words that a seller begins to change are those that are sent', () => {
  for (const step of noticeSteps) {
    const own = usualText(step, 'mail', 'en')
    expect(composeNotice(step, 'mail', 'en', sampleFacts, own)).toEqual(composeNotice(step, 'mail', 'en', sampleFacts))
  }
})
