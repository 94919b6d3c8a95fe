import { z } from 'zod'
import { askStandIns } from '@/adapters'
import { listConnections } from '@/data'
import { saveConnection } from '../intake/connections'
import { refuse, type Answer, type Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'
import { changeList } from './changeList'

const offer = z.object({
  role: z.enum(['channel', 'carrier', 'partner', 'messenger']),
  kind: z.string(),
  name: z.string().min(1).max(120),
  about: z.string().max(300),
  settings: z.record(z.string(), z.string()),
})
const offers = z.object({ offers: z.array(offer).max(100) })
type Offer = z.infer<typeof offer>

/** Simulated outsides that run on this machine, to try everything with. */
export interface OutsideView {
  readonly offers: readonly (Pick<Offer, 'role' | 'name' | 'about'> & { readonly connected: boolean })[]
}

/** What can be connected to here; nothing where no stand-ins run, or where addresses of this machine are forbidden. */
export async function showOutside(gharry: Application): Promise<OutsideView> {
  const [found, connections] = await Promise.all([ask(gharry), listConnections(gharry.db)])
  return {
    offers: found.map(({ role, name, about }) => ({
      ...{ role, name, about },
      connected: connections.some((connection) => connection.role === role && connection.name === name),
    })),
  }
}

/** Connects a simulated outside as a person would by its form; a carrier that is not there yet is added. */
export async function connectOutside(gharry: Application, name: string): Promise<Answer<{ id: string }>> {
  const found = (await ask(gharry)).find((each) => each.name === name)
  if (!found) return refuse('missing', `${name} does not run here (any more): start the stand-ins.`)
  const { role, kind, settings } = found
  const input = { role, kind, name, settings, on: true }
  if (role !== 'carrier') return saveConnection(gharry, null, input)
  const { world } = await currentWorld(gharry.db)
  const known = world.carriers.find((carrier) => carrier.name === name)
  const added = known ?? (await addCarrier(gharry, name))
  return 'id' in added ? saveConnection(gharry, null, { ...input, carrier: added.id }) : added
}

async function addCarrier(gharry: Application, name: string) {
  const answer = await changeList(gharry, { list: 'carriers', before: null, after: { id: '', name } })
  return answer.ok ? { id: (answer.thing as { id: string }).id } : answer
}

async function ask({ outside, settings }: Application): Promise<readonly Offer[]> {
  if (!outside.privateAddresses || settings.standIns === '') return []
  const result = await askStandIns(outside, settings.standIns, offers)
  return result.ok ? result.body.offers : []
}
