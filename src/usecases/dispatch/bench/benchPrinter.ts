import { z } from 'zod'
import { ippPrinter, outsideAddress, type PrinterClient, rawPort, rawPrinter, scalePort, sicsScale } from '@/adapters'
import {
  addPrintJob,
  changeHeld,
  documentBy,
  labelById,
  type LabelRow,
  markLabelsPrinted,
  type PrintJobRow,
  putBack,
  saveDocument,
  type Database,
} from '@/data'
import { refuse, type Answer, type Application } from '../../shared/application'
import { papersOf } from '../printBatch'

const name = 'benches'

/** The printer of a bench, and when it prints. */
export interface BenchSettings {
  /** `raw`: ZPL to a port of a label printer; `ipp`: PDF to any printer. */
  readonly printer: 'none' | 'raw' | 'ipp'
  /** `printer-1`, `10.0.0.7:9100`, `http://10.0.0.8:631/ipp/print`. */
  readonly address: string
  /** As a parcel is opened, as it is checked, or when somebody asks for it. */
  readonly prints: 'opened' | 'checked' | 'asked'
  /** The scale of the bench, or its bridge: `scale-1`, `10.0.0.9:4305`; empty where weights are typed. */
  readonly scale: string
}
const usual: BenchSettings = { printer: 'none', address: '', prints: 'asked', scale: '' }

const hostAndPort = /^([a-z0-9.-]{1,200}|\[[0-9a-f:.]{2,45}\])(?::(\d{1,5}))?$/i
const settings = z
  .strictObject({
    printer: z.enum(['none', 'raw', 'ipp']),
    address: z.string().trim().max(300),
    prints: z.enum(['opened', 'checked', 'asked']),
    scale: z
      .string()
      .trim()
      .max(300)
      .refine((text) => text === '' || hostAndPort.test(text), {
        message: 'Enter the scale’s name or number in your network, such as 10.0.0.9 or 10.0.0.9:4305.',
      }),
  })
  .refine(({ printer, address }) => printer !== 'raw' || hostAndPort.test(address), {
    message: 'Enter the printer’s name or number in your network, such as 10.0.0.7 or 10.0.0.7:9100.',
  })
  .refine(
    ({ printer, address }) => printer !== 'ipp' || outsideAddress.safeParse(address.replace(/^ipp:/i, 'http:')).success,
    { message: 'Enter the printer’s address, such as http://10.0.0.8:631/ipp/print.' },
  )

/** How a bench prints. */
export async function benchSettings(db: Database, bench: string): Promise<BenchSettings> {
  const kept = (await documentBy<Record<string, BenchSettings>>(db, name))?.published ?? {}
  return { ...usual, ...kept[bench] }
}

/** Says how a bench prints. */
export async function saveBench(
  gharry: Application,
  { bench, settings: given }: { readonly bench: string; readonly settings: BenchSettings },
): Promise<Answer<object>> {
  const parsed = settings.safeParse(given)
  if (!parsed.success) return refuse('bad-value', parsed.error.issues[0]!.message)
  const row = await documentBy<Record<string, BenchSettings>>(gharry.db, name)
  const all = { ...row?.published, [bench]: parsed.data }
  const saved = await saveDocument(gharry.db, name, row?.version ?? 0, all, true, gharry.now().toISOString())
  return saved ? { ok: true } : refuse('world-changed', 'Another bench was changed at the same moment: save again.')
}

/** Sends the papers of a label to the printer of a bench; the same key is one printing. */
export async function printAtBench(
  gharry: Application,
  { bench, label: id, key }: { readonly bench: string; readonly label: number; readonly key: string },
): Promise<Answer<object>> {
  const label = await labelById(gharry.db, id)
  if (label?.state !== 'bought') return refuse('not-bought', 'There is no label to print.')
  if ((await benchSettings(gharry.db, bench)).printer === 'none')
    return refuse('missing', `${bench} has no printer: choose one, or print in the browser.`)
  await addPrintJob(gharry.db, { key, bench, labelId: id }, gharry.now().toISOString())
  return { ok: true }
}

/** What stands on the scale of a bench, in grams. */
export async function readScale(gharry: Application, bench: string): Promise<Answer<{ grams: number }>> {
  const { scale } = await benchSettings(gharry.db, bench)
  const place = placeOf(scale)
  if (!place) return refuse('missing', `${bench} has no scale: name one, or type what yours shows.`)
  const result = await sicsScale(place.host, place.port ?? scalePort, gharry.outside).read()
  return result.ok ? { ok: true, grams: result.body } : refuse('bad-value', result.sentence)
}

/** Name and port of something in the house; null where nothing is named. */
function placeOf(address: string): { readonly host: string; readonly port: number | null } | null {
  const [, host = '', port] = hostAndPort.exec(address) ?? []
  return host === '' ? null : { host: host.replace(/[[\]]/g, ''), port: port === undefined ? null : Number(port) }
}

function printerOf(gharry: Application, { printer, address }: BenchSettings): PrinterClient | null {
  if (printer === 'ipp') return ippPrinter(address, gharry.outside)
  const place = printer === 'raw' ? placeOf(address) : null
  return place && rawPrinter(place.host, place.port ?? rawPort, gharry.outside)
}

/** A packer waits for it: after so many tries somebody has to look at the printer. */
const mostTries = 8

/**
 * Sends papers to a printer. From the moment that the printer is there they count as printed: whatever is sent once
 * more says that it is a reprint, so that no two labels of one parcel look the same.
 */
export async function deliverPrint(gharry: Application, job: PrintJobRow): Promise<void> {
  const { db } = gharry
  const fail = (problem: string): Promise<void> =>
    changeHeld(db, 'print_jobs', job, { state: 'failed', problem, leaseUntil: null })
  const label = await labelById(db, job.labelId)
  const bench = await benchSettings(db, job.bench)
  const printer = printerOf(gharry, bench)
  if (label?.state !== 'bought') return fail('The label was voided first.')
  if (!printer) return fail('The bench has no printer any more.')
  const papers = await papersOf(gharry, label, bench.printer === 'raw' ? 'zpl' : 'pdf')
  if (bench.printer === 'raw' && papers.format === 'pdf')
    return fail('The carrier drew this label as PDF: print it on a printer that takes PDF.')
  const result = await printer.print(
    { name: `Gharry ${label.trackingNumber ?? ''}`, content: papers.content, type: typeOf(papers.format) },
    () => noteBegun(gharry, label),
  )
  if (result.ok) return changeHeld(db, 'print_jobs', job, { ...sentNow(gharry), leaseUntil: null })
  if (result.kind === 'refused' || result.kind === 'not allowed' || job.attempts + 1 >= mostTries)
    return fail(result.sentence)
  return putBack(db, 'print_jobs', job, gharry.now(), result.sentence, result.retryAfter)
}

const typeOf = (format: 'pdf' | 'zpl'): 'application/pdf' | 'application/octet-stream' =>
  format === 'pdf' ? 'application/pdf' : 'application/octet-stream'
const sentNow = (gharry: Application): { state: 'sent'; problem: null; sentAt: string } => ({
  ...{ state: 'sent', problem: null },
  sentAt: gharry.now().toISOString(),
})

const noteBegun = (gharry: Application, label: LabelRow): Promise<void> =>
  markLabelsPrinted(gharry.db, [label.id], gharry.now().toISOString())
