import { gs1CheckDigit, s10CheckDigit } from '@/core/papers'
import type { CarrierLabel } from './carrier'
import type { Consignment } from './price'

/**
 * What sets one carrier apart from another: how it numbers parcels, what it refuses, and which labels it does not take
 * back.
 */
export interface Habits {
  readonly symbology: 'code128' | 'gs1-128'
  readonly number: (n: number, fromCountry: string) => string
  readonly refuses?: (
    asked: Consignment & {
      readonly customs:
        readonly { readonly description: string; readonly hsCode: string; readonly origin: string }[] | null
    },
    now: string,
  ) => string | undefined
  readonly keeps?: (label: CarrierLabel, now: string) => string | undefined
}

const hour = 3_600_000
const padded = (n: number, digits: number): string => String(n).padStart(digits, '0')
const brussels = new Intl.DateTimeFormat('en-GB', {
  timeZone: 'Europe/Brussels',
  hour: '2-digit',
  minute: '2-digit',
  hourCycle: 'h23',
})

/**
 * The carriers of the demo's world. Company prefixes are made up; the forms of the numbers are those of open standards
 * where there is one.
 */
export const carrierHabits: Readonly<Record<string, Habits>> = {
  // Serial Shipping Container Codes behind their application identifier (GS1 General Specifications).
  heron: {
    symbology: 'gs1-128',
    number: (n) => {
      const digits = `35490001${padded(n, 9)}`
      return `00${digits}${gs1CheckDigit(digits)}`
    },
  },
  // Postal item numbers (UPU S10). A stamp that was printed is spent: letters are not taken back.
  corvid: {
    symbology: 'code128',
    number: (n, country) => {
      const serial = String(20_000_000 + n)
      return `CV${serial}${s10CheckDigit(serial)}${country}`
    },
    keeps: (label) => (label.service === 'corvid-letter' ? 'Letters are not taken back.' : undefined),
  },
  // A label can be given back within a day.
  northlight: {
    symbology: 'code128',
    number: (n) => {
      const digits = `77${padded(n, 9)}`
      return `NX${digits}${gs1CheckDigit(digits)}`
    },
    keeps: (label, now) =>
      Date.parse(now) - Date.parse(label.boughtAt) > 24 * hour
        ? 'A label can be given back within 24 hours.'
        : undefined,
  },
  // Air waybill numbers: a prefix of three digits, a serial of seven, and the serial modulo 7 (IATA Resolution 600a).
  // Exports need a declaration.
  skua: {
    symbology: 'code128',
    number: (n) => {
      const serial = 4_000_000 + n
      return `918${padded(serial, 7)}${serial % 7}`
    },
    refuses: ({ customs }) => {
      if (customs === null) return undefined
      const missing = customs.find((item) => item.hsCode === '' || item.origin === '')
      return missing
        ? `The declaration is incomplete: ${missing.description} has no ${missing.hsCode === '' ? 'HS code' : 'country of origin'}.`
        : undefined
    },
  },
  bramble: {
    symbology: 'code128',
    number: (n) => `BF${padded(6_000_000 + n, 8)}`,
    refuses: ({ parcels }) =>
      parcels.reduce((sum, { weight }) => sum + weight, 0) < 1000 ? 'Freight begins at 1 kg.' : undefined,
  },
  // The round of the day is closed half an hour after its cut-off.
  dray: {
    symbology: 'code128',
    number: (n) => `DL${padded(n, 7)}`,
    refuses: ({ shipOn }, now) =>
      shipOn === now.slice(0, 10) && brussels.format(new Date(now)) > '12:00'
        ? "Today's round is on its way: ask for tomorrow's."
        : undefined,
  },
}
