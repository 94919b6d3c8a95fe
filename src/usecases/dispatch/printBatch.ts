import { randomUUID } from 'node:crypto'
import { once } from 'node:events'
import { createReadStream, rmSync } from 'node:fs'
import { Readable } from 'node:stream'
import { buffer } from 'node:stream/consumers'
import { givenPages, pdfFile, pngOf, withGivenPages } from '@/adapters'
import { fetchedServices } from '@/core/world'
import { type Page, pageToZpl, type PrinterDpi, type SheetLayout, sheetLayouts } from '@/core/papers'
import {
  chunks,
  drawnElsewhere,
  labelById,
  type LabelPaper,
  labelsOfBatch,
  listChannels,
  newestWorld,
  ordersById,
  parcelsOfLabels,
  writeLog,
  type LabelRow,
  markLabelsPrinted,
} from '@/data'
import { type Application, refuse, type Refused } from '../shared/application'
import { drawnPapersOf } from './drawnPapers'
import { customsPages, labelPage, returnPages, slipPages, type Printed } from './parcelPapers'
import { writeNewFile } from '../shared/writeNewFile'

/** What a station prints, and on which paper. */
export interface PrintProfile {
  readonly layout: string
  /** The first free place of a sheet that was used in part; 1 is the first. */
  readonly start: number
  readonly format: 'pdf' | 'png' | 'zpl'
  readonly dpi: PrinterDpi
  readonly parts: 'both' | 'labels' | 'slips'
  readonly sort: 'batch' | 'location' | 'service' | 'sku' | 'number'
  /** One of several benches that share the batch: which, and of how many. */
  readonly bench?: number
  readonly benches?: number
}

export const usualProfile: PrintProfile = {
  layout: 'thermal',
  start: 1,
  format: 'pdf',
  dpi: 203,
  parts: 'both',
  sort: 'batch',
}

export interface PrintFile {
  readonly content: Readable
  readonly type: string
  readonly extension: string
  /** Under which it can be opened again for an hour. */
  readonly name: string
  readonly pages: number
}

const types: Readonly<Record<string, string>> = {
  pdf: 'application/pdf',
  png: 'image/png',
  zpl: 'application/octet-stream',
}
const hour = 3_600_000

const folder = 'prints'

/** A print file that was made before; null when it is not kept any more. */
export async function openPrint(gharry: Application, name: string): Promise<Omit<PrintFile, 'pages'> | null> {
  const extension = /^[0-9a-f-]{36}\.(pdf|png|zpl)$/.exec(name)?.[1]
  const content = extension === undefined ? null : await gharry.files.read(`${folder}/${name}`)
  return extension === undefined || !content ? null : { content, type: types[extension]!, extension, name }
}

/**
 * The print file of a batch: for each parcel its packing slip and its label, sorted as the station wants. Null when
 * nothing is bought yet.
 */
export async function printBatch(
  gharry: Application,
  batch: number,
  profile: PrintProfile = usualProfile,
): Promise<PrintFile | Refused | null> {
  const all = (await labelsOfBatch(gharry.db, batch)).filter((label) => label.state === 'bought')
  const labels = shareOf(await sorted(gharry, all, profile.sort), profile)
  return labels.length === 0 ? null : print(gharry, labels, `Batch ${batch}`, profile)
}

/** The part of a batch that one of its benches packs: parts of the same size, one behind the other. */
export function shareOf<T>(
  labels: readonly T[],
  { bench = 1, benches = 1 }: Pick<PrintProfile, 'bench' | 'benches'>,
): readonly T[] {
  const each = Math.ceil(labels.length / Math.max(1, benches))
  return benches <= 1 ? labels : labels.slice((bench - 1) * each, bench * each)
}

/** Slip and label of a single order. */
export async function printLabel(
  gharry: Application,
  labelId: number,
  profile: PrintProfile = usualProfile,
): Promise<PrintFile | Refused | null> {
  const label = await labelById(gharry.db, labelId)
  return !label || label.state !== 'bought'
    ? null
    : print(gharry, [label], `Label ${label.trackingNumber ?? ''}`, profile)
}

/** Papers in one file, with what they came as. */
export interface Papers {
  readonly content: Buffer
  readonly format: 'pdf' | 'zpl'
  readonly type: string
}

/**
 * All papers of a shipment in one file: slip, label, customs papers of each parcel. Nothing is marked as printed. Where
 * the carrier drew the label in another format than is wanted, they come in that one: there is no other label.
 */
export async function papersOf(gharry: Application, label: LabelRow, wanted: Papers['format']): Promise<Papers> {
  const format = (await drawnElsewhere(gharry.db, [label.id])).get(label.id) ?? wanted
  const profile = { ...usualProfile, format }
  const title = `Order papers ${label.trackingNumber ?? ''}`
  const content = await buffer(contentOf(pagesOf(gharry, [label], profile), title, profile, true))
  return { content, format, type: types[format]! }
}

/**
 * Writes the whole file first; only then is anything marked as printed. Labels whose papers are not kept are left out;
 * null when none is left.
 */
async function print(
  gharry: Application,
  unsorted: readonly LabelRow[],
  title: string,
  profile: PrintProfile,
): Promise<PrintFile | Refused | null> {
  const labels = (await sorted(gharry, unsorted, profile.sort)).filter(hasPapers)
  if (labels.length === 0) return null
  const drawn = await drawnElsewhere(
    gharry.db,
    labels.map(({ id }) => id),
  )
  const odd = profile.parts === 'slips' ? [] : [...drawn].filter(([, format]) => format !== profile.format)
  if (odd.length > 0) return otherFormat(labels, odd, profile.format)
  let pages = 0
  const counted = async function* (): AsyncGenerator<Sheet> {
    for await (const page of pagesOf(gharry, labels, profile)) {
      pages++
      yield page
    }
  }
  const { name, content } = await keepPrint(gharry, profile.format, async (file) => {
    await writeNewFile(file, contentOf(counted(), title, profile, drawn.size > 0))
    if (pages === 0) throw new Error('The print file has no page.')
  })
  await markPrinted(gharry, labels)
  return { content, type: types[profile.format]!, extension: profile.format, name, pages }
}

/** Keeps a print file for an hour under a name of its own; one that cannot be written whole leaves nothing behind. */
async function keepPrint(
  gharry: Application,
  extension: PrintProfile['format'],
  write: (path: string) => Promise<void>,
): Promise<{ readonly name: string; readonly content: Readable }> {
  await forgetOld(gharry)
  const name = `${randomUUID()}.${extension}`
  const path = gharry.working.path()
  try {
    await write(path)
    // Opened before it is put away: it need not be fetched again.
    const content = createReadStream(path)
    await once(content, 'open')
    await gharry.files.put(`${folder}/${name}`, path)
    return { name, content }
  } catch (error) {
    rmSync(path, { force: true })
    throw error
  }
}

/** Keeps pages that are lists, not papers of labels, as a print file. */
export async function keepPages(
  gharry: Application,
  title: string,
  pages: readonly Page[],
  layout: SheetLayout,
): Promise<PrintFile> {
  const { name, content } = await keepPrint(gharry, 'pdf', (file) => {
    const pdf = pdfFile(title, layout)
    for (const page of pages) pdf.add(page)
    pdf.end()
    return writeNewFile(file, pdf.stream)
  })
  return { content, type: 'application/pdf', extension: 'pdf', name, pages: pages.length }
}

/** Labels that carriers drew are printed as they came, or not at all. */
function otherFormat(
  labels: readonly LabelRow[],
  odd: readonly (readonly [number, LabelPaper['format']])[],
  wanted: string,
): Refused {
  const format = odd[0]![1].toUpperCase()
  const carriers = [...new Set(labels.flatMap(({ id, carrier }) => (odd.some(([of]) => of === id) ? [carrier] : [])))]
  return refuse(
    'other-format',
    `${odd.length === 1 ? 'One label is' : `${odd.length} labels are`} drawn by the carrier (${carriers.join(', ')}) as ${format}, and cannot be printed as ${wanted.toUpperCase()}: choose ${format}.`,
  )
}

/** Labels of a time before their request was kept have nothing that could be drawn. */
const hasPapers = ({ request }: LabelRow): boolean => request.includes('"parcels"') && request.includes('"to"')

/** `given`: some of its pages were made by others, and are put in at the end. */
function contentOf(pages: AsyncGenerator<Sheet>, title: string, profile: PrintProfile, given: boolean): Readable {
  if (profile.format === 'zpl')
    return Readable.from(
      (async function* () {
        for await (const page of pages) yield page.zpl ?? pageToZpl(page, profile.dpi)
      })(),
    )
  if (profile.format === 'png')
    return Readable.from(
      (async function* () {
        // An image holds one page: the first that is asked for.
        const first = await pages.next()
        if (!first.done) yield pngOf(first.value, profile.dpi)
      })(),
    )
  const file = pdfFile(
    title,
    sheetLayouts.find(({ id }) => id === profile.layout),
    profile.start,
  )
  const write = async (): Promise<void> => {
    for await (const page of pages) file.add(page)
    file.end()
  }
  write().catch((error: unknown) => file.stream.destroy(error instanceof Error ? error : new Error(String(error))))
  if (!given) return file.stream
  return Readable.from(
    (async function* () {
      yield await withGivenPages(await buffer(file.stream), file.places)
    })(),
  )
}

async function forgetOld(gharry: Application): Promise<void> {
  for (const { name, changedAt } of await gharry.files.list(folder))
    if (gharry.now().getTime() - changedAt.getTime() > hour) await gharry.files.drop(name)
}

/** A page that is drawn here, one that came as PDF, or a whole label that came as ZPL. */
type Sheet = Page & { readonly zpl?: Buffer }

/** The labels of a parcel as its carrier drew them. */
async function givenSheets(papers: readonly LabelPaper[]): Promise<Sheet[]> {
  const sheets: Sheet[] = []
  for (const { format, content } of papers)
    if (format === 'zpl') sheets.push({ width: 0, height: 0, marks: [], zpl: content })
    else sheets.push(...(await givenPages(content)))
  return sheets
}

async function* pagesOf(
  gharry: Application,
  labels: readonly LabelRow[],
  { parts }: PrintProfile,
): AsyncGenerator<Sheet> {
  const world = (await newestWorld(gharry.db))!.world
  const fetched = new Set(fetchedServices(world))
  const channels = new Map((await listChannels(gharry.db)).map((channel) => [channel.id, channel.name]))
  for (const part of chunks(labels, 20)) {
    const orders = new Map(
      (
        await ordersById(
          gharry.db,
          part.map((label) => label.orderId),
        )
      ).map(({ id, order }) => [id, order]),
    )
    const parcels = await parcelsOfLabels(
      gharry.db,
      part.map((label) => label.id),
    )
    for (const label of part) {
      const order = orders.get(label.orderId)!
      const own = parcels.get(label.id) ?? []
      const drawn = parts === 'slips' ? [] : await drawnPapersOf(gharry, label.id)
      for (const parcel of own) {
        const printed: Printed = {
          label,
          parcel,
          of: own.length,
          order,
          world,
          channelName: channels.get(order.channel) ?? order.channel,
          reprint: label.printedAt ? `REPRINT · first printed ${label.printedAt.slice(0, 16).replace('T', ' ')}` : '',
        }
        const isFetched = fetched.has(label.service)
        // What is fetched has no label: its slip says whose it is.
        if (parts !== 'labels' || isFetched) for (const page of await slipPages(gharry.db, printed)) yield page
        if (parts !== 'slips' && !isFetched) {
          const of = (what: LabelPaper['what']): LabelPaper[] =>
            drawn.filter((paper) => paper.position === parcel.position && paper.what === what)
          const label = await givenSheets(of('label'))
          for (const page of label.length > 0 ? label : [labelPage(printed)]) yield page
          for (const page of customsPages(printed)) yield page
          const back = await givenSheets(of('return'))
          for (const page of back.length > 0 ? back : returnPages(printed)) yield page
        }
      }
    }
    // Others want the processor too while a long file is made.
    await new Promise((resolve) => setImmediate(resolve))
  }
}

async function markPrinted(gharry: Application, labels: readonly LabelRow[]): Promise<void> {
  const now = gharry.now().toISOString()
  const again = labels.filter((label) => label.printedAt !== null)
  await gharry.db.transaction(async (trx) => {
    await markLabelsPrinted(
      trx,
      labels.map((label) => label.id),
      now,
    )
    await writeLog(
      trx,
      again.map((label) => ({
        order: label.orderId,
        at: now,
        author: gharry.settings.author,
        sentence: 'Slip and label printed again',
      })),
    )
  })
}

async function sorted(
  gharry: Application,
  labels: readonly LabelRow[],
  sort: PrintProfile['sort'],
): Promise<readonly LabelRow[]> {
  if (sort === 'batch') return labels
  const orders =
    sort === 'sku' || sort === 'number'
      ? new Map(
          (
            await ordersById(
              gharry.db,
              labels.map((label) => label.orderId),
            )
          ).map(({ id, order }) => [id, order]),
        )
      : null
  const keyOf = (label: LabelRow): string => {
    switch (sort) {
      case 'location':
        return label.location
      case 'service':
        return `${label.carrier} ${label.service}`
      case 'sku':
        return orders?.get(label.orderId)?.items[0]?.sku ?? ''
      case 'number':
        return orders?.get(label.orderId)?.number ?? ''
    }
  }
  const keys = new Map(labels.map((label) => [label.id, keyOf(label)]))
  return [...labels].sort(
    (a, b) => keys.get(a.id)!.localeCompare(keys.get(b.id)!, 'en', { numeric: true }) || a.position - b.position,
  )
}
