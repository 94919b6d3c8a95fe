import type { Logger } from 'pino'
import {
  type Access,
  type CallFailure,
  type CallReport,
  type CarrierClient,
  carrierKindOf,
  type ChannelClient,
  channelKindOf,
  type Kind,
  LostKey,
  type MailClient,
  type MessengerClient,
  messengerKindOf,
  type PartnerClient,
  partnerKindOf,
  type Outside,
  type Vault,
  watched,
} from '@/adapters'
import {
  connectionById,
  connectionsOfCarrier,
  listConnections,
  fromJson,
  noteCalls,
  type Calls,
  type ConnectionRow,
  type Database,
} from '@/data'
import { accessOf } from './access'
import { accountFor, type AccountWanted } from './accounts'

/** The outside as it is connected: clients are made from what is kept, and made again when it was changed. */
export interface Connections {
  /** The client of a channel; one whose connection cannot be used says why at each call. */
  readonly channel: (id: string) => Promise<ChannelClient>
  /** The client of an account at a carrier; null when there is none. */
  readonly carrier: (id: string, wanted?: AccountWanted) => Promise<CarrierClient | null>
  /** The client of a partner; one whose connection cannot be used says why at each call. */
  readonly partner: (id: string) => Promise<PartnerClient>
  /** The gateway for text messages that is used; null where there is none. */
  readonly messenger: () => Promise<{ readonly id: string; readonly client: MessengerClient } | null>
  /** Notes that a connection sent a message, and whether it was its own. */
  readonly heard: (id: string, own: boolean) => void
  /** Writes down how calls went since it was last written. */
  readonly note: () => Promise<void>
}

export interface ConnectionTools {
  readonly db: Database
  readonly log: Logger
  readonly vault: Vault
  readonly outside: Outside
  readonly mail: MailClient
  readonly now: () => Date
}

/** What a kind is needed for here. */
interface Opens<C> extends Pick<Kind, 'settings' | 'authorises'> {
  readonly open: (settings: never, outside: Outside, access: Access, mail: MailClient) => C
}

export function openConnections(tools: ConnectionTools): Connections {
  const { db, log, vault, outside, now } = tools
  const open = new Map<string, { readonly version: number; readonly client: object }>()
  const asked = new Map<string, Promise<ConnectionRow[]>>()
  /** Many labels of a carrier ask at the same moment: it is read once for them. */
  const accountsOf = (carrier: string): Promise<ConnectionRow[]> => {
    const asking =
      asked.get(carrier) ?? Promise.resolve(connectionsOfCarrier(db, carrier)).finally(() => asked.delete(carrier))
    asked.set(carrier, asking)
    return asking
  }
  let calls = new Map<string, { -readonly [K in keyof Calls]: Calls[K] }>()
  const notedOf = (id: string): { -readonly [K in keyof Calls]: Calls[K] } => {
    const known = calls.get(id)
    if (known) return known
    const fresh = { calls: 0, failures: 0, ms: 0, heard: 0, refused: 0, successAt: null, failure: null }
    calls.set(id, fresh)
    return fresh
  }
  const report =
    (id: string) =>
    ({ ms, failure }: CallReport): void => {
      const noted = notedOf(id)
      const at = now().toISOString()
      noted.calls++
      noted.ms += ms
      // A refusal is an answer: the connection works.
      if (failure && failure.kind !== 'refused') {
        noted.failures++
        noted.failure = { at, ...failure }
      } else noted.successAt = at
    }
  const clientOf = <C extends object>(row: ConnectionRow, kind: Opens<C>, dead: (why: string) => C): C => {
    const known = open.get(row.id)
    if (known?.version === row.version) return known.client as C
    const make = (given: unknown): C => {
      const settings = kind.settings.parse(given)
      return kind.open(settings as never, outside, accessOf(tools, row.id, kind, settings), tools.mail)
    }
    const client = usable(row, vault, make, dead, report(row.id), outside)
    open.set(row.id, { version: row.version, client })
    return client
  }
  return {
    channel: async (id) => {
      const row = await connectionById(db, id)
      const kind = row && channelKindOf(row.kind)
      return row && kind
        ? clientOf(row, kind, deadChannel)
        : deadChannel('It has no connection: set one up under Intake, Connections.')
    },
    carrier: async (id, wanted) => {
      const row = accountFor(await accountsOf(id), wanted)
      const kind = row && carrierKindOf(row.kind)
      return row && kind ? clientOf(row, kind, deadCarrier) : null
    },
    partner: async (id) => {
      const row = await connectionById(db, id)
      const kind = row && partnerKindOf(row.kind)
      return row && kind
        ? clientOf(row, kind, deadPartner)
        : deadPartner('It has no connection (any more): set one up under Intake, Connections.')
    },
    messenger: async () => {
      const row = (await listConnections(db)).find(({ role, on }) => role === 'messenger' && on)
      const kind = row && messengerKindOf(row.kind)
      return row && kind ? { id: row.id, client: clientOf(row, kind, deadMessenger) } : null
    },
    heard: (id, own) => {
      const noted = notedOf(id)
      if (own) noted.heard++
      else noted.refused++
      if (own) noted.successAt = now().toISOString()
    },
    note: async () => {
      const noted = calls
      calls = new Map()
      for (const [id, each] of noted)
        await noteCalls(db, id, now().toISOString().slice(0, 13), each).catch((error: unknown) =>
          log.warn({ connection: id, err: error }, 'the calls of a connection were not noted'),
        )
    },
  }
}

/** A client with what is kept; where that cannot be used, one that says why. */
function usable<C extends object>(
  row: ConnectionRow,
  vault: Vault,
  make: (settings: unknown) => C,
  dead: (why: string) => C,
  report: (call: CallReport) => void,
  outside: Outside,
): C {
  if (!row.on) return dead(`${row.name} is switched off.`)
  try {
    return watched(make(settingsOf(row, vault)), report, outside)
  } catch (error) {
    const why =
      error instanceof LostKey ? error.message : 'Its settings are not complete: enter them under Intake, Connections.'
    report({ ms: 0, failure: { kind: 'not allowed', sentence: why } })
    return dead(why)
  }
}

/** All settings of a connection, those that are secret among them. */
export const settingsOf = (row: Pick<ConnectionRow, 'id' | 'settings' | 'secrets'>, vault: Vault): object => ({
  ...fromJson<object>(row.settings),
  ...(row.secrets === null ? {} : fromJson<object>(vault.open(row.secrets, row.id))),
})

const failure = (sentence: string) => (): Promise<CallFailure> =>
  Promise.resolve({ ok: false, kind: 'not allowed', sentence, retryAfter: 60 })
const deadChannel = (why: string): ChannelClient => ({
  fetchOrders: failure(why),
  fulfil: failure(why),
  withdraw: failure(why),
})
const deadCarrier = (why: string): CarrierClient => ({
  buy: failure(why),
  voidLabel: failure(why),
  topUp: failure(why),
  refund: failure(why),
  manifest: failure(why),
  collectionTerms: failure(why),
  bookCollection: failure(why),
  changeCollection: failure(why),
  cancelCollection: failure(why),
  collection: failure(why),
  events: failure(why),
})
const deadPartner = (why: string): PartnerClient => ({ handOver: failure(why), takeBack: failure(why) })
const deadMessenger = (why: string): MessengerClient => ({ send: failure(why), news: failure(why) })
