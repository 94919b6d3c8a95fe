import type { ChannelSettings } from '@/data'
import type { ConnectionInput, ConnectionView } from '@/usecases/intake/connections'

/** The form of a connection, as its fields have it. */
export type Values = {
  name: string
  kind: string
  carrier: string
  on: boolean
  /** Of a carrier: the locations that use the account; all of them when none is ticked. */
  locations: string[]
  /** Of a carrier: labels a second, as it is typed; empty where only the carrier's answers say. */
  perSecond: string
  settings: Record<string, string>
  channel: Omit<ChannelSettings, 'name' | 'retired' | 'fromDay'> & { fromDay: string }
}

const channelDefaults: Values['channel'] = {
  tellWhen: 'bought',
  everyMinutes: 5,
  fromDay: '',
  statuses: '',
  places: '',
  mailBuyers: true,
  currency: '',
  language: '',
}

/** What the form begins with. */
export function valuesOf(connection: ConnectionView | undefined, kind: string, carrier = ''): Values {
  const { fromDay, ...channel } = connection?.channel ?? { ...channelDefaults, fromDay: null }
  return {
    name: connection?.name ?? '',
    kind: connection?.kind ?? kind,
    carrier,
    on: connection?.on ?? true,
    locations: [...(connection?.locations ?? [])],
    perSecond: connection?.perSecond?.toString() ?? '',
    settings: { ...connection?.settings },
    channel: { ...channelDefaults, ...channel, fromDay: fromDay ?? '' },
  }
}

/** What the form asks for. */
export function inputOf(values: Values, role: ConnectionView['role'], version: number | undefined): ConnectionInput {
  const { tellWhen, everyMinutes, statuses, places, mailBuyers, currency, language, fromDay } = values.channel
  return {
    role,
    kind: values.kind,
    name: values.name,
    settings: values.settings,
    on: values.on,
    ...(version === undefined ? {} : { version }),
    ...(role === 'carrier' && values.carrier ? { carrier: values.carrier } : {}),
    ...(role === 'carrier'
      ? { locations: values.locations, perSecond: values.perSecond.trim() === '' ? null : Number(values.perSecond) }
      : {}),
    ...(role === 'channel'
      ? {
          channel: {
            ...{ tellWhen, everyMinutes, statuses, places, mailBuyers, currency, language },
            fromDay: fromDay === '' ? null : fromDay,
          },
        }
      : {}),
  }
}
