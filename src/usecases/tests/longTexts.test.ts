import { decimalIn, escaped } from '@/adapters'
import {
  checkAddress,
  isOneAddress,
  isParcelLocker,
  isPostOfficeBox,
  correctAll,
  printedAddress,
  readAddressBlock,
  territoryOf,
} from '@/core/address'
import { isDay, readBoundary, readMoment } from '@/core/calendar'
import { cleanText, normaliseOrder, postcodeKey } from '@/core/order'
import { readRulebook } from '@/core/rulebook/language'
import { cleanTrackingNumber } from '@/core/tracking'
import { ambiguity, parseAmount, parseLength, parseWeight, readNumber } from '@/core/units'
import { dayIn, momentIn } from '@/adapters/files/signs'
import { unescaped } from '@/adapters/files/formulas'

/*
 * Every expression that reads a text from outside, at 100 kB of what such expressions stumble on. What took 50 s must
 * take well under one.
 */

const long = (piece: string, end = '!'): string => piece.repeat(Math.ceil(100_000 / piece.length)) + end
const texts: readonly string[] = [
  ' ',
  '0',
  '1,',
  '1 ',
  ',',
  '.',
  '-',
  "'",
  'a',
  'a ',
  'a1 ',
  'straat 1 ',
  'A-',
  '@',
  'a@',
  'a.b@',
  '\n',
  ' \n',
  '\t',
  '1/1',
  ': ',
  'bus ',
  'po box ',
  '"',
  '(',
  '{{',
  '{% ',
  '% ',
].flatMap((piece) => [long(piece), `1${long(piece, ' x')}`, `a${long(piece, '€')}`])

/** As it comes, and as an order keeps it: each field is cut where it enters. */
const raw = (text: string) => ({
  name: text,
  company: text,
  lines: [text, text],
  city: text,
  postcode: text,
  region: text,
  country: 'BE',
})
const address = (text: string) =>
  normaliseOrder({ id: '1', number: '1', shipTo: raw(text), items: [] }, 'shop', new Map()).shipTo
const readers: Readonly<Record<string, (text: string) => unknown>> = {
  amount: (text) => parseAmount(text, 'EUR'),
  weight: (text) => parseWeight(text, 'kg'),
  length: (text) => parseLength(text, 'cm'),
  number: (text) => readNumber(text),
  ambiguity,
  day: isDay,
  moment: (text) => readMoment(text, 'UTC'),
  boundary: readBoundary,
  'moment of a file': (text) => momentIn(text, 'UTC'),
  'decimals of a column': (text) => decimalIn([text, text]),
  'dates of a column': (text) => dayIn([text, text]),
  escaped,
  unescaped,
  text: cleanText,
  postcode: postcodeKey,
  'tracking number': cleanTrackingNumber,
  'mail address': isOneAddress,
  'address check': (text) => checkAddress(address(text)),
  'address corrections': (text) => correctAll(address(text)),
  'printed address': (text) => printedAddress(address(text)),
  'address block': (text) => readAddressBlock(text, 'BE'),
  'post-office box': (text) => isPostOfficeBox([text]),
  'parcel locker': (text) => isParcelLocker([text]),
  territory: (text) => territoryOf('ES', text),
  'thousands of street lines': (text) =>
    checkAddress({ ...address('x'), lines: Array.from({ length: 5000 }, () => text.slice(0, 20)) }),
  order: (text) =>
    normaliseOrder(
      {
        id: text,
        number: text,
        placedAt: text,
        wording: text,
        promisedBy: text,
        value: text,
        currency: text,
        shippingPaid: text,
        buyer: { name: text, email: text, phone: text },
        shipTo: raw(text),
        items: [
          {
            sku: text,
            title: text,
            quantity: 1,
            price: text,
            hsCode: text,
            origin: text,
            dangerousGoods: text,
            tags: [text],
          },
        ],
      },
      'shop',
      new Map(),
    ),
  rulebook: (text) => readRulebook(`rulebook: ${text}`),
}

// What takes more than linear time takes minutes at this length; a busy machine alone takes a second.
const mostMs = 4000

test.each(Object.keys(readers))('%s at 100 kB', (name) => {
  const slow = texts.flatMap((text) => {
    const began = performance.now()
    readers[name]!(text)
    const took = performance.now() - began
    return took > mostMs ? [`${JSON.stringify(text.slice(0, 12))} … ${Math.round(took)} ms`] : []
  })
  expect(slow).toEqual([])
})
