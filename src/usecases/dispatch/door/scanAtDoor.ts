import { parcelNumbers, readCode } from '@/core/bench'
import { atDoor, containerCode, isContainerCode, ssccOf } from '@/core/handover'
import type { World } from '@/core/world'
import {
  addContainer,
  addManifest,
  addToManifest,
  containersOf,
  type Database,
  manifestById,
  openManifestOf,
  parcelAtDoor,
  takeOffOpen,
  writeLog,
} from '@/data'
import { type Answer, type Application, refuse } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'
import { dayAt, doorView, type DoorView } from './doorView'
import { freshReference } from './handedOver'

/**
 * What a scan at the door came to: on the lorry, on it before, into another container from now on, or it stays here.
 */
export interface DoorSaid {
  readonly verdict: 'right' | 'again' | 'container' | 'wrong'
  readonly words: string
  readonly more: string
  /** Into which container the next ones go; null for none. */
  readonly container: string | null
}
type Scanned = Answer<{ readonly said: DoorSaid; readonly view: DoorView }>

export interface DoorScan {
  readonly carrier: string
  readonly location: string
  readonly code: string
  /** The code of the container that is being filled; null for none. */
  readonly container: string | null
}

const nameIn =
  (world: World) =>
  (id: string): string =>
    [...world.carriers, ...world.locations].find((one) => one.id === id)?.name ?? id

/**
 * A parcel, or a container, was scanned at the door of a carrier's lorry. Mistakes are said, and nothing is put on the
 * manifest.
 */
export async function scanAtDoor(gharry: Application, scan: DoorScan): Promise<Scanned> {
  const { world } = await currentWorld(gharry.db)
  const unknown = unknownWay(world, scan)
  if (unknown) return unknown
  const today = dayAt(world, scan.location, gharry.now())
  return gharry.db.transaction(async (trx): Promise<Scanned> => {
    const said = await judged(gharry, trx, world, scan)
    return { ok: true, said, view: await doorView(trx, scan.carrier, scan.location, today) }
  })
}

function unknownWay(world: World, { carrier, location }: Pick<DoorScan, 'carrier' | 'location'>) {
  if (!world.carriers.some(({ id }) => id === carrier))
    return refuse('unknown-carrier', 'There is no such carrier: choose one.')
  if (!world.locations.some(({ id }) => id === location))
    return refuse('unknown-location', 'There is no such location: choose one.')
  return null
}

async function judged(gharry: Application, trx: Database, world: World, scan: DoorScan): Promise<DoorSaid> {
  const { carrier, location, container } = scan
  const wrong = (words: string, more: string): DoorSaid => ({ verdict: 'wrong', words, more, container })
  const code = readCode(scan.code)
  if (code.kind === 'unreadable') return wrong('Cannot be read', code.why)
  const open = await openManifestOf(trx, carrier, location)
  const plain = scan.code.trim()
  const numbers = parcelNumbers(code, scan.code)
  const parcel = await parcelAtDoor(trx, numbers)
  const holders = open ? await containersOf(trx, open.id) : []
  if (!parcel) {
    const other = holders.find((one) => numbers.includes(one.code) || one.code === plain.toUpperCase())
    if (other)
      return {
        verdict: 'container',
        words: `Into ${other.code}`,
        more: 'What is scanned next goes into it.',
        container: other.code,
      }
    return isContainerCode(plain)
      ? wrong('Container of another manifest', `${plain} does not belong to this lorry.`)
      : wrong('Not known', `“${plain.slice(0, 60)}” is no parcel that left a bench here: keep it out.`)
  }
  const mustBeChecked = world.locations.find(({ id }) => id === location)?.checked === true
  const door = { carrier, location, manifest: open?.id ?? null, mustBeChecked }
  const verdict = atDoor(parcel, door, nameIn(world))
  if (verdict.verdict === 'wrong') return { ...verdict, container }
  const into = holders.find((one) => one.code === container)
  if (container !== null && !into)
    return wrong('Container not known', `${container} is not on this manifest: scan another one.`)
  if (verdict.verdict === 'again') return { verdict: 'again', words: 'Scanned before', more: parcel.order, container }
  const now = gharry.now().toISOString()
  const { author } = gharry.settings
  const manifest = open?.id ?? (await openManifest(gharry, trx, scan))
  await addToManifest(trx, manifest, [parcel], { containerId: into?.id ?? null, scanned: true, at: now, author })
  return { verdict: 'right', words: parcel.order, more: into ? `in ${into.code}` : parcel.number, container }
}

/** Opens the manifest of a lorry. */
const openManifest = (
  gharry: Application,
  trx: Database,
  { carrier, location }: Pick<DoorScan, 'carrier' | 'location'>,
): Promise<number> =>
  addManifest(
    trx,
    { carrier, location, reference: freshReference(), author: gharry.settings.author },
    gharry.now().toISOString(),
  )

/**
 * Makes a container for the lorry at a door: an SSCC where the seller has a company prefix, else a code of the house.
 */
export async function newContainer(
  gharry: Application,
  { carrier, location }: { readonly carrier: string; readonly location: string },
): Promise<Answer<{ readonly id: number; readonly code: string; readonly view: DoorView }>> {
  const { world } = await currentWorld(gharry.db)
  const unknown = unknownWay(world, { carrier, location })
  if (unknown) return unknown
  const now = gharry.now().toISOString()
  const prefix = world.seller?.gs1Prefix
  return gharry.db.transaction(async (trx) => {
    const open = await openManifestOf(trx, carrier, location)
    const manifest = open?.id ?? (await openManifest(gharry, trx, { carrier, location }))
    const codeOf = (id: number, nth: number): string => (prefix ? ssccOf(prefix, id) : containerCode(manifest, nth))
    const { id, code } = await addContainer(trx, manifest, codeOf, now)
    return { ok: true, id, code, view: await doorView(trx, carrier, location, dayAt(world, location, gharry.now())) }
  })
}

/** Takes a parcel off a manifest that is open: it stays here. */
export async function takeOff(
  gharry: Application,
  { manifest, label, position }: { readonly manifest: number; readonly label: number; readonly position: number },
): Promise<Answer<{ readonly view: DoorView }>> {
  const { world } = await currentWorld(gharry.db)
  return gharry.db.transaction(async (trx) => {
    const row = await manifestById(trx, manifest)
    if (!row) return refuse('not-found', 'There is no such manifest.')
    if (row.state !== 'open' || (await takeOffOpen(trx, label, position)) === 0)
      return refuse(
        'taken',
        `It is not on an open manifest (any more): ${row.state === 'open' ? 'look again' : `M${manifest} is closed`}.`,
      )
    return { ok: true, view: await doorView(trx, row.carrier, row.location, dayAt(world, row.location, gharry.now())) }
  })
}

/** Takes what is on an open manifest of a label off, as it is to be voided; its order's log says so. */
export async function takeOffVoided(
  gharry: Application,
  trx: Database,
  label: { id: number; orderId: number },
): Promise<void> {
  if ((await takeOffOpen(trx, label.id)) === 0) return
  await writeLog(trx, [
    {
      ...{ order: label.orderId, at: gharry.now().toISOString(), author: 'Gharry' },
      sentence: 'Taken off the manifest that is open: its label is to be voided',
    },
  ])
}
