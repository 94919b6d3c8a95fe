import { layoutContainerLabel, layoutManifest, sheetLayouts, wholeSheet } from '@/core/papers'
import { usualSeller } from '@/core/world'
import { containersOf, manifestById, parcelsOnManifest } from '@/data'
import type { Application } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'
import { keepPages, type PrintFile } from '../printBatch'
import { strokesOf } from './deliverManifest'

/** A manifest on paper; null when there is none, or nothing on it. */
export async function printManifest(gharry: Application, id: number): Promise<PrintFile | null> {
  const row = await manifestById(gharry.db, id)
  const on = row ? await parcelsOnManifest(gharry.db, id) : []
  if (!row || on.length === 0) return null
  const { world } = await currentWorld(gharry.db)
  const paper = wholeSheet((world.seller ?? usualSeller).paper)
  const from = world.locations.find((location) => location.id === row.location)
  const carrier = world.carriers.find((one) => one.id === row.carrier)?.name ?? row.carrier
  const at = row.closedAt ?? gharry.now().toISOString()
  const serviceNames = new Map(world.services.map((service) => [service.id, service.name]))
  const clock = new Intl.DateTimeFormat('en-GB', {
    ...{ dateStyle: 'medium', timeStyle: 'short', timeZone: from?.timeZone ?? 'UTC' },
  })
  const pages = layoutManifest(
    {
      title: `Manifest M${id}: ${carrier}`,
      about: `${from?.name ?? row.location}, ${row.closedAt === null ? 'still open, ' : ''}${clock.format(new Date(at))}, ${row.author}${row.confirmation ? `, carrier's number ${row.confirmation}` : ''}`,
      code: row.reference,
      parcels: [...on]
        .reverse()
        .map(({ trackingNumber, number, country, city, service, weight, container, state, scanned }) => ({
          ...{ trackingNumber, order: number, to: `${country} ${city}`, service: serviceNames.get(service) ?? service },
          ...{ weight, container: container ?? '', remark: remarkOf(state, scanned) },
        })),
      ...{ driver: row.driver, signature: strokesOf(row) },
    },
    paper,
  )
  return keepPages(gharry, `Manifest M${id}`, pages, paper)
}

function remarkOf(state: string, scanned: boolean): string {
  if (state === 'voided') return 'voided since'
  return scanned ? '' : 'not scanned'
}

/** The labels of the containers of a manifest; null when it has none. */
export async function printContainers(gharry: Application, id: number): Promise<PrintFile | null> {
  const row = await manifestById(gharry.db, id)
  const containers = row ? await containersOf(gharry.db, id) : []
  if (!row || containers.length === 0) return null
  const { world } = await currentWorld(gharry.db)
  const carrier = world.carriers.find((one) => one.id === row.carrier)?.name ?? row.carrier
  const location = world.locations.find((one) => one.id === row.location)?.name ?? row.location
  const layout = sheetLayouts[0]!
  const pages = containers.map(({ code }) =>
    layoutContainerLabel({ code, carrier, location }, layout.width, layout.height),
  )
  return keepPages(gharry, `Containers of M${id}`, pages, layout)
}
