import { type PlainRows, plainRows, type Shown } from '@/data'
import type { Endpoint } from '../endpoints'
import type { Application } from '../shared/application'

type Id = string | number
interface Watched {
  readonly rows: PlainRows
  /** What a row is called: `label 7`. */
  readonly kind: string
  readonly ids: (body: Readonly<Record<string, unknown>>, params: Readonly<Record<string, string>>) => readonly Id[]
}

const label: PlainRows = { table: 'labels', by: 'id', columns: ['state', 'dispatchedAt', 'voidedAt', 'stillHere'] }
const order: PlainRows = {
  table: 'orders',
  by: 'id',
  columns: ['state', 'hold', 'location', 'preset', 'service', 'carrier', 'zone', 'cost', 'parcels', 'combine', 'flag'],
}
const collection: PlainRows = {
  table: 'collections',
  by: 'id',
  columns: ['state', 'day', 'wish', 'change', 'confirmation', 'cost', 'note'],
}
const back: PlainRows = {
  table: 'returns',
  by: 'id',
  columns: ['state', 'service', 'paidByBuyer', 'amount', 'forShipping', 'paidByHandAt'],
}

/** The id in the path. */
const inPath: Watched['ids'] = (_, { id }) => (id === undefined ? [] : [/^\d+$/.test(id) ? Number(id) : id])
/** A text or number of the body, or all of a list of them. */
const inBody =
  (name: string): Watched['ids'] =>
  (body) =>
    [body[name]].flat(2).filter((id): id is Id => typeof id === 'string' || typeof id === 'number')

const orderByPath: Watched = { rows: order, kind: 'order', ids: inPath }

/**
 * What a call changes of what is there already, where the change itself writes nothing into the audit: these rows are
 * looked at before and after. What is saved as a whole (world, rulebook, documents, people, connections) is written by
 * what saves it.
 */
const watched: Readonly<Partial<Record<Endpoint, Watched>>> = {
  'PATCH /api/intake/channels/:id': {
    rows: { table: 'channels', by: 'id', columns: ['tellWhen', 'everyMinutes'] },
    kind: 'channel',
    ids: inPath,
  },
  'DELETE /api/intake/imports/:id': {
    rows: { table: 'imports', by: 'id', columns: ['state'] },
    kind: 'import',
    ids: inPath,
  },
  'DELETE /api/setup/tokens': {
    rows: { table: 'api_tokens', by: 'id', columns: ['name', 'scopes', 'revokedAt'] },
    kind: 'token',
    ids: inBody('id'),
  },
  'PUT /api/setup/webhooks': {
    rows: { table: 'webhooks', by: 'id', columns: ['name', 'url', 'types', 'on'] },
    kind: 'webhook',
    ids: inBody('id'),
  },
  'POST /api/desk/orders/combine': { rows: order, kind: 'order', ids: inBody('groups') },
  'POST /api/desk/orders/:id/apart': orderByPath,
  'PUT /api/desk/orders/:id/address': orderByPath,
  'POST /api/desk/orders/:id/numbers': orderByPath,
  'PUT /api/desk/ways': { rows: order, kind: 'order', ids: inBody('orders') },
  'DELETE /api/desk/edits': {
    rows: { table: 'edits', by: 'id', columns: ['state', 'sentence'] },
    kind: 'edit',
    ids: inBody('edit'),
  },
  'PUT /api/desk/words': {
    rows: { table: 'customer_words', by: 'id', columns: ['closedAt'] },
    kind: 'words',
    ids: inBody('id'),
  },
  'POST /api/dispatch/labels/:id/void': { rows: label, kind: 'label', ids: inPath },
  'POST /api/dispatch/labels/void': { rows: label, kind: 'label', ids: inBody('labels') },
  'PUT /api/dispatch/manifests': { rows: label, kind: 'label', ids: inBody('labels') },
  'PUT /api/dispatch/collections': { rows: collection, kind: 'collection', ids: inBody('id') },
  'DELETE /api/dispatch/collections': { rows: collection, kind: 'collection', ids: inBody('id') },
  'PUT /api/dispatch/stock': {
    rows: { table: 'stock', by: 'sku', within: 'location', columns: ['onHand', 'reserved'] },
    kind: 'item',
    ids: inBody('sku'),
  },
  'PUT /api/dispatch/stock/channels': {
    rows: { table: 'channels', by: 'id', columns: ['stock', 'stockLocation'] },
    kind: 'channel',
    ids: inBody('channel'),
  },
  'PUT /api/tracking/returns': { rows: back, kind: 'return', ids: inBody('id') },
  'PUT /api/tracking/returns/paid': { rows: back, kind: 'return', ids: inBody('id') },
  'PUT /api/tracking/returns/arrivals': { rows: back, kind: 'return', ids: inBody('id') },
  'PUT /api/ledger/balance': {
    rows: { table: 'carrier_accounts', by: 'carrier', columns: ['mark', 'topUpBy', 'creditLimit'] },
    kind: 'account',
    ids: inBody('carrier'),
  },
  'DELETE /api/ledger/balance/invoices': {
    rows: {
      table: 'carrier_invoices',
      by: 'id',
      columns: ['carrier', 'number', 'billed', 'expected', 'takenBackAt'],
    },
    kind: 'invoice',
    ids: inBody('invoice'),
  },
  'PUT /api/ledger/refunds': {
    rows: { table: 'refunds', by: 'labelId', columns: ['state', 'granted', 'note'] },
    kind: 'label',
    ids: inBody('label'),
  },
  'PUT /api/ledger/claims': {
    rows: { table: 'claims', by: 'id', columns: ['state', 'granted', 'note'] },
    kind: 'claim',
    ids: inBody('id'),
  },
}

/** So many rows are shown of a call that changes more of them. */
const mostRows = 50

/**
 * Shows what a call changes, as it is at the moment; null where the change itself says so, or where nothing is there
 * before.
 */
export function lookAt(
  { db }: Application,
  endpoint: string,
  params: Readonly<Record<string, string>>,
  body: unknown,
): (() => Promise<Shown>) | null {
  const found = (watched as Readonly<Record<string, Watched>>)[endpoint]
  if (!found) return null
  const given = typeof body === 'object' && body !== null ? (body as Record<string, unknown>) : {}
  const ids = found.ids(given, params).slice(0, mostRows)
  return ids.length === 0 ? null : () => plainRows(db, found.rows, ids, found.kind)
}
