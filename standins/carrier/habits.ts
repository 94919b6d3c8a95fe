import { gs1CheckDigit, s10CheckDigit } from '@/core/papers'
import type { CarrierLabel } from './label'
import type { CollectionManners } from './collections'
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
  readonly collections: CollectionManners
  /** So many days after the void a refund is granted, when it is asked for. */
  readonly refundDays: number
  /** Its counters print return labels for who shows a code. */
  readonly returnCodes?: true
  /** Why a refund is not granted. */
  readonly keepsMoney?: (label: CarrierLabel) => string | undefined
}

const hour = 3_600_000
const workdays = [1, 2, 3, 4, 5]
/** Free in the afternoon, dearer before and after; to be asked by noon of the day. */
const usualCollections: CollectionManners = {
  ...{ weekdays: workdays, daysBefore: 0, until: '12:00', least: 1 },
  windows: [
    ['09:00', '12:00', 0],
    ['14:00', '18:00', 0],
    ['18:00', '20:00', 1200],
  ],
}
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
    returnCodes: true,
    refundDays: 7,
    collections: usualCollections,
    symbology: 'gs1-128',
    number: (n) => {
      const digits = `35490001${padded(n, 9)}`
      return `00${digits}${gs1CheckDigit(digits)}`
    },
  },
  // Postal item numbers (UPU S10). A stamp that was printed is spent: letters are not taken back.
  corvid: {
    returnCodes: true,
    refundDays: 21,
    // Wants a day's notice, and ten parcels.
    collections: { ...usualCollections, daysBefore: 1, until: '17:00', least: 10, windows: [['10:00', '16:00', 0]] },
    symbology: 'code128',
    number: (n, country) => {
      const serial = String(20_000_000 + n)
      return `CV${serial}${s10CheckDigit(serial)}${country}`
    },
    keeps: (label) => (label.service === 'corvid-letter' ? 'Letters are not taken back.' : undefined),
  },
  // A label can be given back within a day.
  northlight: {
    refundDays: 3,
    collections: {
      ...usualCollections,
      until: '15:00',
      windows: [
        ['15:00', '18:00', 0],
        ['18:00', '21:00', 1850],
      ],
    },
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
    refundDays: 14,
    // What is given back late is taken back, but not paid back.
    keepsMoney: ({ boughtAt, voidedAt = boughtAt }) =>
      Date.parse(voidedAt) - Date.parse(boughtAt) > 72 * hour
        ? 'Labels are paid back that were voided within three days.'
        : undefined,
    // Each time is charged.
    collections: { ...usualCollections, windows: [['13:00', '17:00', 1500]] },
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
    refundDays: 10,
    collections: { ...usualCollections, daysBefore: 1, until: '12:00' },
    symbology: 'code128',
    number: (n) => `BF${padded(6_000_000 + n, 8)}`,
    refuses: ({ parcels }) =>
      parcels.reduce((sum, { weight }) => sum + weight, 0) < 1000 ? 'Freight begins at 1 kg.' : undefined,
  },
  // The round of the day is closed half an hour after its cut-off.
  dray: {
    refundDays: 1,
    collections: {
      ...usualCollections,
      weekdays: [1, 2, 3, 4, 5, 6],
      until: '11:00',
      windows: [['12:00', '13:00', 0]],
    },
    symbology: 'code128',
    number: (n) => `DL${padded(n, 7)}`,
    refuses: ({ shipOn }, now) =>
      shipOn === now.slice(0, 10) && brussels.format(new Date(now)) > '12:00'
        ? "Today's round is on its way: ask for tomorrow's."
        : undefined,
  },
}
