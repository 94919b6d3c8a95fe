import anyAscii from 'any-ascii'
import { postcodeValidator, postcodeValidatorExistsForCountry } from 'postcode-validator'
import { type Address, foldText, type Order, type OrderProblem, trimSigns } from '@/core/order'
import { mail } from './mail'
import { isPostOfficeBox } from './postOfficeBox'

/** What is wrong or doubtful in an address, with a proposed correction where one can be made out. */
export interface AddressProblem {
  readonly code:
    | 'address-name'
    | 'address-postcode'
    | 'address-region'
    | 'address-number'
    | 'address-email'
    | 'address-phone'
    | 'address-letters'
    | 'address-long'
    | 'address-twice'
  readonly sentence: string
  readonly correction: Address | null
}

/** Labels and carriers take lines of this many characters. */
export const maxLineLength = 35

// Where a street line without any number is the exception. Great Britain and Ireland have houses with names alone.
const numbered = new Set([
  'BE',
  'NL',
  'LU',
  'DE',
  'FR',
  'PL',
  'AT',
  'CH',
  'IT',
  'ES',
  'PT',
  'DK',
  'SE',
  'NO',
  'FI',
  'CZ',
  'SK',
  'HU',
  'SI',
  'HR',
  'US',
  'CA',
  'AU',
])
// Where carriers ask for the state or province.
const regioned = new Set(['US', 'CA', 'AU', 'BR', 'MX', 'IN'])
const phone = /(?:\+|00)\s?\d(?:[\s./()-]?\d){7,14}|\b0\d(?:[\s./-]?\d){7,10}\b/
// Latin letters with their marks, and what stands between them; everything else is not printed by every carrier.
const unprintable = /[^\u0020-\u024F\u1E00-\u1EFF\u2010-\u201F€]/u

/** Checks the address that an order goes to. Each problem once; in the order in which a person would correct them. */
export function checkAddress(address: Address): AddressProblem[] {
  if (address.country === '') return []
  const found: AddressProblem[] = []
  const say = (code: AddressProblem['code'], sentence: string, correction: Partial<Address> | null): void =>
    void found.push({ code, sentence, correction: correction && { ...address, ...correction } })
  if (address.name === '' && address.company === '')
    say('address-name', 'The address has no name: ask the buyer, or write who receives it.', null)
  checkLetters(address, say)
  checkContacts(address, say)
  checkPostcode(address, say)
  if (regioned.has(address.country) && address.region === '')
    say('address-region', `An address in ${address.country} needs its state or province.`, null)
  if (
    numbered.has(address.country) &&
    address.lines.length > 0 &&
    !address.lines.some((line) => /\p{Nd}/u.test(line)) &&
    !isPostOfficeBox(address.lines)
  )
    say('address-number', 'No line of the address has a house number: ask the buyer.', null)
  checkTwice(address, say)
  checkLong(address, say)
  return found
}

type Say = (code: AddressProblem['code'], sentence: string, correction: Partial<Address> | null) => void

const fields = ['name', 'company', 'city', 'region'] as const

function checkLetters(address: Address, say: Say): void {
  const bad = [address.name, address.company, ...address.lines, address.city, address.region].find((text) =>
    unprintable.test(text),
  )
  if (bad === undefined) return
  const latin = (text: string): string =>
    unprintable.test(text)
      ? [...text]
          .map((letter) => (unprintable.test(letter) ? toLatin(letter) : letter))
          .join('')
          .replace(/\s+/g, ' ')
          .trim()
      : text
  const correction: Partial<Record<(typeof fields)[number], string>> & { lines: string[] } = {
    lines: address.lines.map(latin).filter(Boolean),
  }
  for (const field of fields) correction[field] = latin(address[field])
  say('address-letters', `"${bad.slice(0, 40)}" has characters that carriers do not print.`, correction)
}

/** A letter in Latin script (package `any-ascii`); signs such as emoji, which it would spell as words, are left out. */
const toLatin = (letter: string): string => {
  if (/\p{L}|\p{N}|\p{M}/u.test(letter)) return anyAscii(letter)
  return /\p{Z}/u.test(letter) ? ' ' : ''
}

function checkContacts(address: Address, say: Say): void {
  for (const [code, what, pattern] of [
    ['address-email', 'An e-mail address', mail],
    ['address-phone', 'A phone number', phone],
  ] as const) {
    const holder = [address.name, address.company, ...address.lines, address.city].find((text) => pattern.test(text))
    if (holder === undefined) continue
    const without = (text: string): string =>
      trimSigns(
        text
          .replace(pattern, '')
          .replace(/\b(e-?mail|mail|tel|phone|gsm|mobile)\b\.?:?/i, '')
          .replace(/\s+/g, ' '),
        ' ,;:/-',
      )
    say(code, `${what} is in the address ("${holder.slice(0, 40)}") and would be printed on the label.`, {
      name: pattern.test(address.name) ? without(address.name) : address.name,
      company: pattern.test(address.company) ? without(address.company) : address.company,
      city: pattern.test(address.city) ? without(address.city) : address.city,
      lines: address.lines.map((line) => (pattern.test(line) ? without(line) : line)).filter(Boolean),
    })
  }
}

function checkPostcode(address: Address, say: Say): void {
  const { country, postcode } = address
  if (!postcodeValidatorExistsForCountry(country)) return
  if (postcode === '') return say('address-postcode', `An address in ${country} needs a postcode.`, null)
  if (postcodeValidator(postcode, country)) return
  const corrected = correctPostcode(country, postcode)
  say(
    'address-postcode',
    `"${postcode}" is no postcode of ${country}.`,
    corrected === null ? null : { postcode: corrected },
  )
}

/**
 * The postcode that was meant, when only its form is off: a country code before it, signs between, a letter O for a
 * nought. Null when that does not make one.
 */
function correctPostcode(country: string, postcode: string): string | null {
  const bare = postcode
    .toUpperCase()
    .replace(new RegExp(`^(?:${country}|[A-Z])[\\s-]+(?=\\d)`), '')
    .replace(/[^A-Z0-9]/g, '')
  const digits = bare.replace(/O/g, '0').replace(/[IL]/g, '1')
  for (const candidate of [bare, digits])
    for (const form of [
      candidate,
      ...[2, 3, 4].flatMap((at) => [
        `${candidate.slice(0, at)}-${candidate.slice(at)}`,
        `${candidate.slice(0, at)} ${candidate.slice(at)}`,
      ]),
      `${candidate.slice(0, -3)} ${candidate.slice(-3)}`,
    ])
      if (form !== postcode && postcodeValidator(form, country)) return form
  return null
}

function checkTwice(address: Address, say: Say): void {
  const others = new Set(
    [
      address.city,
      address.name,
      address.company,
      `${address.postcode} ${address.city}`,
      `${address.city} ${address.postcode}`,
    ]
      .map(foldText)
      .filter(Boolean),
  )
  const kept: string[] = []
  for (const line of address.lines)
    if (!others.has(foldText(line)) && !kept.some((before) => foldText(before) === foldText(line))) kept.push(line)
  const company = foldText(address.company) === foldText(address.name) ? '' : address.company
  if (kept.length === address.lines.length && company === address.company) return
  say(
    'address-twice',
    `The same text is in the address twice: "${address.lines.find((line) => !kept.includes(line)) ?? address.company}".`,
    { lines: kept, company },
  )
}

function checkLong(address: Address, say: Say): void {
  const long = [address.name, address.company, ...address.lines, address.city].find(
    (text) => text.length > maxLineLength,
  )
  if (long === undefined) return
  say('address-long', `"${long.slice(0, 32)}…" has ${long.length} characters; labels take ${maxLineLength} a line.`, {
    name: cutAt(address.name)[0]!,
    company: cutAt(address.company)[0]!,
    city: cutAt(address.city)[0]!,
    lines: address.lines.flatMap(cutAt),
  })
}

/** Breaks a text at blanks into pieces that fit a line; a word that is longer is cut. */
function cutAt(text: string): string[] {
  const pieces: string[] = []
  let rest = text.trim()
  while (rest.length > maxLineLength) {
    const blank = Math.max(rest.lastIndexOf(' ', maxLineLength), rest.lastIndexOf(',', maxLineLength - 1) + 1)
    const at = blank > maxLineLength / 3 ? blank : maxLineLength
    pieces.push(rest.slice(0, at).trim())
    rest = rest.slice(at).trim()
  }
  return [...pieces, rest]
}

/**
 * All proposed corrections together, or those of some codes, each on what the one before left; the address itself when
 * there is none.
 */
export function correctAll(address: Address, codes?: readonly AddressProblem['code'][]): Address {
  let corrected = address
  for (let round = 0; round < 8; round++) {
    const next = checkAddress(corrected).find(
      ({ code, correction }) =>
        (codes === undefined || codes.includes(code)) &&
        correction !== null &&
        JSON.stringify(correction) !== JSON.stringify(corrected),
    )?.correction
    if (!next) return corrected
    corrected = next
  }
  return corrected
}

/** An address without e-mail addresses and telephone numbers in it, and the first of each that was there (or empty). */
export function withoutContacts(address: Address): {
  readonly address: Address
  readonly email: string
  readonly phone: string
} {
  const text = [address.name, address.company, ...address.lines, address.city].join('\n')
  const email = mail.exec(text)?.[0] ?? ''
  return {
    address: correctAll(address, ['address-email', 'address-phone']),
    email,
    phone: phone.exec(text.replace(email, ''))?.[0].trim() ?? '',
  }
}

// What keeps a label from being bought; a line that is too long is broken on the label, and what stands twice does no
// harm.
const grave: readonly AddressProblem['code'][] = [
  'address-name',
  'address-postcode',
  'address-region',
  'address-number',
  'address-email',
  'address-phone',
  'address-letters',
]

/** An order with what is grave about its address among its problems; the same object when there is nothing. */
export function withAddressChecked(order: Order): Order {
  const found = checkAddress(order.shipTo).filter(({ code }) => grave.includes(code))
  return found.length === 0
    ? order
    : {
        ...order,
        problems: [
          ...order.problems,
          ...found.map(({ code, sentence, correction }): OrderProblem => ({
            code,
            sentence: correction ? `${sentence} A correction is proposed.` : sentence,
          })),
        ],
      }
}

/** An order whose address somebody looked at and wants as it is. */
export const withAddressAccepted = (order: Order): Order => ({
  ...order,
  problems: order.problems.filter(({ code }) => !code.startsWith('address-')),
})
