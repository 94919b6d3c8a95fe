import type { Grams } from '@/core/units'
import { barWidths, moduleFor } from './barcode'
import type { Mark, Page } from './drawing'
import type { SheetLayout } from './labelSheet'
import { type OfficeSheet, officeSheet, sheetMargin as margin } from './officeSheet'

/** What a manifest says on paper. */
export interface ManifestSheet {
  readonly title: string
  /** Where, when, by whom. */
  readonly about: string
  /** The code of the manifest, as bars. */
  readonly code: string
  readonly parcels: readonly {
    readonly trackingNumber: string
    readonly order: string
    readonly to: string
    readonly service: string
    readonly weight: Grams
    /** Empty where it stands alone. */
    readonly container: string
    /** Voided since, for one. */
    readonly remark: string
  }[]
  readonly driver: string
  /** Strokes: x, y, x, y …, x of 1000 and y of 300. */
  readonly signature: readonly (readonly number[])[]
}

const kilograms = (grams: number): string => `${(grams / 1000).toFixed(2)} kg`
const parcelCount = (count: number): string => `${count} ${count === 1 ? 'parcel' : 'parcels'}`

/**
 * A manifest on office paper: totals by service and by container with their bars, where the driver signed, then each
 * parcel. The driver needs the first page alone. Millimetres.
 */
export function layoutManifest(manifest: ManifestSheet, paper: Pick<SheetLayout, 'width' | 'height'>): Page[] {
  const sheet = officeSheet(manifest, paper)
  const { parcels } = manifest
  sheet.bars(manifest.code, paper.width - margin - 60, sheet.y, 60)
  sheet.text(margin, sheet.y, parcelCount(parcels.length), 20, { bold: true, width: 100 })
  sheet.text(margin, sheet.y + 9, kilograms(sumOf(parcels)), 13, { width: 100 })
  sheet.y += 18
  totals(sheet, 'By service', parcels, ({ service }) => service, false)
  if (parcels.some(({ container }) => container !== ''))
    totals(sheet, 'By container', parcels, ({ container }) => container || 'alone', true)
  signed(sheet, manifest)
  list(sheet, parcels)
  return sheet.pages()
}

const sumOf = (parcels: ManifestSheet['parcels']): number => parcels.reduce((sum, { weight }) => sum + weight, 0)

function totals(
  sheet: OfficeSheet,
  title: string,
  parcels: ManifestSheet['parcels'],
  of: (parcel: ManifestSheet['parcels'][number]) => string,
  bars: boolean,
): void {
  const groups = new Map<string, ManifestSheet['parcels'][number][]>()
  for (const parcel of parcels) groups.set(of(parcel), [...(groups.get(of(parcel)) ?? []), parcel])
  sheet.room(16)
  sheet.text(margin, sheet.y, title, 11, { bold: true })
  sheet.y += 7
  for (const [name, some] of [...groups].sort(([a], [b]) => (a < b ? -1 : 1))) {
    const tall = bars ? 13 : 5.5
    sheet.room(tall)
    sheet.text(margin, sheet.y, name, 9, { width: 76, mono: bars })
    sheet.text(margin + 78, sheet.y, parcelCount(some.length), 9, { align: 'right', width: 26 })
    sheet.text(margin + 106, sheet.y, kilograms(sumOf(some)), 9, { align: 'right', width: 22 })
    if (bars && name !== 'alone') containerBars(sheet, name)
    sheet.y += tall
  }
  sheet.y += 3
}

function containerBars(sheet: OfficeSheet, code: string): void {
  const [words, symbology] = barsOf(code)
  sheet.bars(words, margin + 132, sheet.y - 1, sheet.inner - 132, symbology)
}

/** An SSCC stands behind its application identifier; codes of the house stand for themselves. */
const barsOf = (code: string): [words: string, symbology: 'gs1-128' | 'code128'] =>
  /^\d{18}$/.test(code) ? [`00${code}`, 'gs1-128'] : [code, 'code128']

function signed(sheet: OfficeSheet, { driver, signature }: ManifestSheet): void {
  const wide = 80
  const tall = (wide * 300) / 1000
  sheet.room(tall + 16)
  sheet.text(margin, sheet.y, 'Received by the driver', 11, { bold: true })
  const top = sheet.y + 6
  for (const stroke of signature)
    for (let i = 0; i + 3 < stroke.length; i += 2)
      sheet.line(
        margin + (stroke[i]! / 1000) * wide,
        top + (stroke[i + 1]! / 1000) * wide,
        margin + (stroke[i + 2]! / 1000) * wide,
        top + (stroke[i + 3]! / 1000) * wide,
        0.35,
      )
  sheet.line(margin, top + tall, margin + wide, top + tall, 0.2)
  sheet.text(margin, top + tall + 1.5, driver || 'Name, signature', 8, { width: wide })
  sheet.y = top + tall + 10
}

function list(sheet: OfficeSheet, parcels: ManifestSheet['parcels']): void {
  sheet.room(20)
  sheet.text(margin, sheet.y, 'Parcels', 11, { bold: true })
  sheet.y += 7
  for (const { trackingNumber, order, to, weight, remark } of parcels) {
    sheet.room(5.2)
    sheet.text(margin, sheet.y, trackingNumber, 8, { mono: true, width: 48 })
    sheet.text(margin + 50, sheet.y, order, 8, { width: 34 })
    sheet.text(margin + 86, sheet.y, remark === '' ? to : `${to}: ${remark}`, 8, { width: 74 })
    sheet.text(margin + sheet.inner - 24, sheet.y, kilograms(weight), 8, { align: 'right', width: 24 })
    sheet.y += 4.6
    sheet.rule(sheet.y - 0.6)
  }
}

/** The label of a container: its code large, as bars a hand high. Millimetres. */
export function layoutContainerLabel(
  { code, carrier, location }: { readonly code: string; readonly carrier: string; readonly location: string },
  width: number,
  height: number,
): Page {
  const [words, symbology] = barsOf(code)
  const widths = barWidths(words, symbology)
  const module = widths && moduleFor([...widths, 20], width - 10)
  const marks: Mark[] = [
    { kind: 'text', x: 5, y: 6, text: carrier, size: 24, bold: true, width: width - 10 },
    { kind: 'text', x: 5, y: 18, text: `from ${location}`, size: 12, width: width - 10 },
    { kind: 'text', x: 5, y: 30, text: symbology === 'gs1-128' ? 'SSCC' : 'Container', size: 10, width: width - 10 },
    { kind: 'text', x: 5, y: 35, text: code, size: 18, mono: true, width: width - 10 },
  ]
  if (widths && module)
    marks.push({ kind: 'bars', x: 5 + 10 * module, y: 50, height: height - 66, module, widths, text: words, symbology })
  return { width, height, marks }
}
