import { randomUUID } from 'node:crypto'
import {
  channelKindOf,
  fieldsOf,
  kindOf,
  kinds,
  LostKey,
  type CarrierClient,
  type ChannelClient,
  type Kind,
  type MessengerClient,
  type PartnerClient,
  type SettingField,
} from '@/adapters'
import {
  addAudit,
  addChannel,
  addConnection,
  changeChannel,
  changeConnection,
  channelById,
  connectionById,
  connectionsOfCarrier,
  countOpenLabels,
  fromJson,
  hoursSince,
  listChannels,
  listConnections,
  messagesOf,
  newestWorld,
  removeConnection as dropConnection,
  type ChannelRow,
  type ChannelSettings,
  type ConnectionHour,
  type ConnectionRow,
} from '@/data'
import { rulesNaming } from '../setup/changeList'
import { accessOf } from '../shared/access'
import { changeWorld, currentWorld } from '../shared/changeWorld'
import { refuse, type Answer, type Application } from '../shared/application'
import { locationsOf } from '../shared/accounts'
import { idsFrom } from '../shared/freshId'
import { settingsOf } from '../shared/connections'
import { healthOf, isIll, type Health } from './connectionHealth'

export interface KindView {
  readonly id: string
  readonly role: Kind['role']
  readonly name: string
  readonly about: string
  readonly fields: readonly SettingField[]
  readonly can: Readonly<Record<string, boolean>>
}
export interface ConnectionView extends Pick<
  ConnectionRow,
  | 'id'
  | 'role'
  | 'belongsTo'
  | 'kind'
  | 'name'
  | 'on'
  | 'version'
  | 'lastSuccessAt'
  | 'lastFailureAt'
  | 'lastFailure'
  | 'endsAt'
> {
  /** Without what is secret. */
  readonly settings: Readonly<Record<string, string>>
  /** Secret settings that are kept; they are never shown again. */
  readonly kept: readonly string[]
  readonly health: Health
  /** The last 24 hours, the oldest first. */
  readonly hours: readonly Pick<ConnectionHour, 'hour' | 'calls' | 'failures'>[]
  /** Whether it is of a kind that a person authorises. */
  readonly authorised: boolean
  /** Messages that it sends by itself, of the last 24 hours; absent where it sends none. */
  readonly messages?: {
    readonly url: string
    readonly taken: number
    readonly refused: number
    readonly waiting: number
    readonly failed: readonly { readonly event: string; readonly receivedAt: string; readonly problem: string | null }[]
  }
  /** The locations that use it; all of them when there is none here. Of carriers only. */
  readonly locations: readonly string[]
  /** So many labels are asked for in a second at most; null where only its answers say. Of carriers only. */
  readonly perSecond: number | null
  /** How its channel is set; absent for carriers. */
  readonly channel?: ChannelSettings
}
export interface ConnectionsView {
  readonly kinds: readonly KindView[]
  readonly connections: readonly ConnectionView[]
  readonly carriers: readonly { readonly id: string; readonly name: string }[]
  readonly locations: readonly { readonly id: string; readonly name: string }[]
}

const hourOf = (ms: number): string => new Date(ms).toISOString().slice(0, 13)

/** All connections with how they are, and the kinds there are. */
export async function showConnections(gharry: Application): Promise<ConnectionsView> {
  const now = gharry.now()
  const [rows, channels, hours, world] = await Promise.all([
    listConnections(gharry.db),
    listChannels(gharry.db),
    hoursSince(gharry.db, hourOf(now.getTime() - 23 * 3_600_000)),
    newestWorld(gharry.db),
  ])
  const last24 = Array.from({ length: 24 }, (_, i) => hourOf(now.getTime() - (23 - i) * 3_600_000))
  return {
    kinds: kinds.map(({ id, role, name, about, settings, can }) => ({
      id,
      role,
      name,
      about,
      fields: fieldsOf({ settings }),
      can: { ...can },
    })),
    connections: await Promise.all(
      rows.map(async (row) => {
        const own = hours.filter(({ connection }) => connection === row.id)
        const channel = channels.find(({ id }) => id === row.belongsTo)
        return {
          ...viewOf(row),
          health: isCalled(row) ? healthOf(row, own, now) : { state: row.on ? 'works' : 'off', sentence: '' },
          hours: last24.map((hour) => {
            const noted = own.find((each) => each.hour === hour)
            return { hour, calls: noted?.calls ?? 0, failures: noted?.failures ?? 0 }
          }),
          ...(channelKindOf(row.kind)?.messages
            ? {
                messages: {
                  url: `${gharry.settings.publicUrl}/api/hooks/${row.id}`,
                  taken: own.reduce((sum, { heard }) => sum + heard, 0),
                  refused: own.reduce((sum, { refused }) => sum + refused, 0),
                  ...(await messagesOf(gharry.db, row.id)),
                },
              }
            : {}),
          ...(row.role === 'channel' && channel ? { channel: settingsOfChannel(channel) } : {}),
        }
      }),
    ),
    carriers: (world?.world.carriers ?? []).map(({ id, name }) => ({ id, name })),
    locations: (world?.world.locations ?? []).map(({ id, name }) => ({ id, name })),
  }
}

/** Whether anything is called there at all. */
function isCalled({ role, kind }: ConnectionRow): boolean {
  const can = channelKindOf(kind)?.can
  return role !== 'channel' || can === undefined || can.fetch || can.told
}

/** How many connections need a person. */
export async function illConnections(gharry: Application): Promise<number> {
  const [rows, hours] = await Promise.all([
    listConnections(gharry.db),
    hoursSince(gharry.db, hourOf(gharry.now().getTime() - 3_600_000)),
  ])
  return rows.filter((row) => {
    const own = hours.filter(({ connection }) => connection === row.id)
    return isIll(healthOf(row, own, gharry.now()).state)
  }).length
}

function viewOf(row: ConnectionRow): Omit<ConnectionView, 'health' | 'hours' | 'messages' | 'channel'> {
  const { id, role, belongsTo, kind, name, on, version, lastSuccessAt, lastFailureAt, lastFailure, endsAt } = row
  const secret = (kindOf(role, kind) ? fieldsOf(kindOf(role, kind)!) : []).filter((field) => field.secret)
  return {
    ...{ id, role, belongsTo, kind, name, on, version, lastSuccessAt, lastFailureAt, lastFailure, endsAt },
    authorised: kindOf(role, kind)?.authorises !== undefined,
    settings: fromJson<Record<string, string>>(row.settings),
    kept: row.secrets === null ? [] : secret.map((field) => field.id),
    locations: locationsOf(row) ?? [],
    perSecond: row.perSecond,
  }
}

const settingsOfChannel = ({
  name,
  tellWhen,
  everyMinutes,
  fromDay,
  statuses,
  places,
  mailBuyers,
  currency,
  language,
  retired,
}: ChannelRow): ChannelSettings => ({
  ...{ name, tellWhen, everyMinutes, fromDay, statuses, places, mailBuyers, currency, language, retired },
})

export interface ConnectionInput {
  readonly role: Kind['role']
  readonly kind: string
  readonly name: string
  /** The carrier whose account it is; a channel is its own. */
  readonly carrier?: string
  /** As they were typed; a secret that is left empty stays as it is kept. */
  readonly settings: Readonly<Record<string, string>>
  readonly on: boolean
  /** The version that was changed; absent for a new one. */
  readonly version?: number
  readonly channel?: Partial<Omit<ChannelSettings, 'name' | 'retired'>>
  /** Of a carrier: the locations that buy with this account; all of them when none is named. */
  readonly locations?: readonly string[]
  /** Of a carrier: so many labels are asked for in a second at most; null where only its answers say. */
  readonly perSecond?: number | null
}

type Wrong = { readonly fields: Readonly<Record<string, string>> }
type Checked = { readonly kind: Kind; readonly values: Readonly<Record<string, unknown>> }

/** What was typed, with what is kept where a secret was left empty; or what is wrong, at its field. */
function checked(gharry: Application, input: ConnectionInput, before: ConnectionRow | undefined): Checked | Wrong {
  const kind = kindOf(input.role, input.kind)
  if (!kind) return { fields: { kind: 'Choose what kind of connection it is.' } }
  const fields: Record<string, string> = {}
  if (input.name.trim() === '') fields.name = 'Enter a name.'
  let kept: Readonly<Record<string, unknown>> = {}
  try {
    if (before) kept = settingsOf(before, gharry.vault) as Readonly<Record<string, unknown>>
  } catch (error) {
    // Without its key what is kept is no use: everything is entered anew.
    if (!(error instanceof LostKey)) throw error
  }
  // What is kept for one address is not sent to another unasked.
  const reused = before?.kind === kind.id && isAtSamePlace(kind, before, input.settings) ? kept : {}
  const given = Object.fromEntries(
    fieldsOf(kind).map(({ id, secret }) => {
      const typed = input.settings[id] ?? ''
      return [id, secret && typed === '' ? (reused[id] ?? '') : typed]
    }),
  )
  const parsed = kind.settings.safeParse(given)
  if (!parsed.success) for (const issue of parsed.error.issues) fields[String(issue.path[0])] ??= issue.message
  return Object.keys(fields).length > 0 || !parsed.success ? { fields } : { kind, values: parsed.data }
}

/** Whether the addresses and names that credentials are for are still those of before. */
function isAtSamePlace(kind: Kind, before: ConnectionRow, settings: Readonly<Record<string, unknown>>): boolean {
  const known = fromJson<Record<string, unknown>>(before.settings)
  const plain = (value: unknown): string => (typeof value === 'string' ? value.trim().replace(/\/$/, '') : '')
  return fieldsOf(kind)
    .filter(({ input, secret }) => !secret && input === 'address')
    .every(({ id }) => plain(settings[id]) === plain(known[id]))
}

const isWrong = (result: Checked | Wrong): result is Wrong => 'fields' in result
const wrongFields = ({ fields }: Wrong): Answer<never> & { fields: Wrong['fields'] } => ({
  ...refuse('bad-settings', Object.values(fields)[0] ?? 'Something is missing.'),
  fields,
})

/** Sets up a connection, or changes one; what is wrong is said field by field. */
export async function saveConnection(
  gharry: Application,
  id: string | null,
  input: ConnectionInput,
): Promise<Answer<{ id: string; version: number }>> {
  const { db, vault } = gharry
  const before = id === null ? undefined : await connectionById(db, id)
  if (id !== null && !before) return refuse('unknown-connection', 'This connection does not exist (any more).')
  const check = checked(gharry, input, before)
  if (isWrong(check)) return wrongFields(check)
  if (input.role === 'carrier' && !before) {
    const world = await newestWorld(db)
    if (!world?.world.carriers.some((carrier) => carrier.id === input.carrier))
      return wrongFields({ fields: { carrier: 'Choose the carrier whose account it is.' } })
  }
  const own =
    id ??
    (input.role === 'carrier'
      ? `${input.carrier!}-${randomUUID().slice(0, 8)}`
      : await freeId(gharry, input.name, input.role))
  const secret = new Set(fieldsOf(check.kind).flatMap((field) => (field.secret ? [field.id] : [])))
  const part = (which: boolean): object =>
    Object.fromEntries(Object.entries(check.values).filter(([key]) => secret.has(key) === which))
  const row = {
    kind: check.kind.id,
    name: input.name.trim(),
    settings: JSON.stringify(part(false)),
    secrets: secret.size === 0 ? null : vault.seal(JSON.stringify(part(true)), own),
    on: input.on,
    locations: (input.locations ?? []).length === 0 ? null : JSON.stringify(input.locations),
    perSecond: input.perSecond === undefined ? (before?.perSecond ?? null) : input.perSecond,
    endsAt: before?.endsAt ?? null,
    tokens: before && isAtSamePlace(check.kind, before, check.values) ? before.tokens : null,
  }
  return db.transaction(async (trx) => {
    if (before) {
      if (!(await changeConnection(trx, own, input.version ?? 0, row)))
        return refuse('world-changed', 'Somebody else has changed this connection meanwhile: look at it again.')
    } else {
      const at = gharry.now().toISOString()
      const belongsTo = input.role === 'carrier' ? input.carrier! : own
      if (input.role === 'channel')
        await addChannel(trx, { id: own, name: row.name, kind: row.kind, tellWhen: 'bought', everyMinutes: 0 })
      await addConnection(trx, { ...row, id: own, role: input.role, belongsTo, madeAt: at })
    }
    if (input.role === 'channel') await changeChannel(trx, own, { name: row.name, ...input.channel })
    if (input.role === 'partner') await namePartner({ ...gharry, db: trx }, own, row.name)
    await addAudit(
      trx,
      {
        ...{ action: before ? 'connection changed' : 'connection made', about: `connection ${own}` },
        before: before && auditable(before),
        after: { ...auditable(row), credentials: before?.secrets === row.secrets ? 'as before' : 'given' },
      },
      gharry.now().toISOString(),
    )
    return { ok: true as const, id: own, version: (input.version ?? 0) + 1 }
  })
}

/** What the audit says of a connection: nothing secret. */
const auditable = ({
  kind,
  name,
  settings,
  on,
}: {
  kind: string
  name: string
  settings: string
  on: boolean
}): object => ({
  ...{ kind, name, on },
  settings: fromJson<unknown>(settings),
})

/** Rules and locations name partners, so the world has a list of them. */
const namePartner = (gharry: Application, id: string, name: string | null): Promise<Answer<object>> =>
  changeWorld(gharry, null, '', (world) => {
    const others = (world.partners ?? []).filter((partner) => partner.id !== id)
    return { ...world, partners: name === null ? others : [...others, { id, name }] }
  })

/** An identifier of letters and hyphens that no channel and no partner has, from a name. */
async function freeId({ db }: Application, name: string, usual: string): Promise<string> {
  const ids = idsFrom(name, usual)
  let id = ids.next().value
  while ((await channelById(db, id)) ?? (await connectionById(db, id))) id = ids.next().value
  return id
}

export interface TestView {
  readonly works: boolean
  readonly sentence: string
  /** The next orders that an import would take in, at most five. */
  readonly orders: readonly {
    readonly number: string
    readonly buyer: string
    readonly to: string
    readonly placedAt: string
  }[]
}

/** Calls the other side with what was typed, without keeping or importing anything. */
export async function testConnection(
  gharry: Application,
  id: string | null,
  input: ConnectionInput,
): Promise<Answer<TestView>> {
  const before = id === null ? undefined : await connectionById(gharry.db, id)
  const check = checked(gharry, input, before)
  if (isWrong(check)) return wrongFields(check)
  if (check.kind.authorises && !before?.tokens)
    return {
      ok: true,
      works: false,
      sentence: `${before ? 'Authorise it' : 'Connect it, and authorise it'} first: then it can be tested.`,
      orders: [],
    }
  const access = accessOf(gharry, before?.id ?? '', check.kind, check.values)
  const client = check.kind.open(check.values as never, gharry.outside, access, gharry.mail)
  if (check.kind.role === 'carrier') {
    const answer = await (client as CarrierClient).events('')
    return answer.ok
      ? { ok: true, works: true, sentence: 'The carrier answers.', orders: [] }
      : { ok: true, works: false, sentence: answer.sentence, orders: [] }
  }
  if (check.kind.role === 'messenger') {
    const answer = await (client as MessengerClient).news('')
    const sentence = answer.ok ? 'The gateway answers.' : answer.sentence
    return { ok: true, works: answer.ok, sentence, orders: [] }
  }
  if (check.kind.role === 'partner') return testPartner(client as PartnerClient)
  if (!check.kind.can.fetch)
    return { ok: true, works: true, sentence: 'Nothing is called: its orders come in files.', orders: [] }
  const channel = id === null ? undefined : await channelById(gharry.db, id)
  const page = await (client as ChannelClient).fetchOrders(channel?.cursor ?? '')
  if (!page.ok) return { ok: true, works: false, sentence: page.sentence, orders: [] }
  const { orders } = page.body
  return {
    ok: true,
    works: true,
    sentence: orders.length === 0 ? 'The channel answers. No order is new.' : 'The channel answers. These come next:',
    orders: orders.slice(0, 5).map((order) => ({
      number: order.number,
      buyer: order.buyer?.name ?? '',
      to: [order.shipTo?.city, order.shipTo?.country].filter(Boolean).join(', '),
      placedAt: order.placedAt ?? '',
    })),
  }
}

async function testPartner({ news }: PartnerClient): Promise<Answer<TestView>> {
  const answer = await news?.('')
  const sentence = answer ? 'The partner answers.' : 'Nothing is called before a shipment is handed over.'
  return {
    ok: true,
    works: answer?.ok !== false,
    sentence: answer?.ok === false ? answer.sentence : sentence,
    orders: [],
  }
}

/** Why a partner has to stay; null when it may go. */
async function whyPartnerStays(gharry: Application, { id, name }: ConnectionRow): Promise<string | null> {
  const { world } = await currentWorld(gharry.db)
  const place = world.locations.find(({ partner }) => partner === id)
  if (place) return `${place.name} is theirs: change that under Set-up, Locations first.`
  const without = { ...world, partners: (world.partners ?? []).filter((partner) => partner.id !== id) }
  const [rule] = await rulesNaming(gharry, world, without)
  return rule === undefined ? null : `The rule “${rule}” names ${name}: change it and publish first.`
}

/**
 * Takes a connection out. A channel stays with its orders, and is not asked any more; a carrier whose last account it
 * is stays while labels of it may still have to be voided.
 */
export async function removeConnection(gharry: Application, id: string, version: number): Promise<Answer<object>> {
  const row = await connectionById(gharry.db, id)
  if (!row) return refuse('unknown-connection', 'This connection does not exist (any more).')
  if (row.version !== version)
    return refuse('world-changed', 'Somebody else has changed this connection meanwhile: look at it again.')
  const stays = row.role === 'partner' ? await whyPartnerStays(gharry, row) : null
  if (stays !== null) return refuse('in-use', stays)
  if (row.role === 'carrier') {
    const alone = (await connectionsOfCarrier(gharry.db, row.belongsTo)).length === 1
    const open = await countOpenLabels(gharry.db, { carrier: row.belongsTo, account: id, alone })
    if (open > 0)
      return refuse(
        'in-use',
        `${open} ${open === 1 ? 'label' : 'labels'} of this account can still be voided: switch the connection off instead.`,
      )
  }
  await gharry.db.transaction(async (trx) => {
    if (row.role === 'channel') await changeChannel(trx, row.belongsTo, { retired: true, everyMinutes: 0 })
    if (row.role === 'partner') await namePartner({ ...gharry, db: trx }, id, null)
    await dropConnection(trx, id)
  })
  return { ok: true }
}
