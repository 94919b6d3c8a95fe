import { NextRequest } from 'next/server'
import { may, type Role, roleIds } from '@/core/people'
import { addPerson } from '@/data'
import type { Endpoint } from '@/usecases/endpoints'
import { requestImport } from '@/usecases/intake/importOrders'
import { demoOrders } from '../../demo/orders'
import type { Application } from '@/usecases/shared/application'
import { leavesNothing, needs } from '@/usecases/people/needs'
import { beginSignIn } from '@/usecases/people/signedIn'
import { makeRig, type Rig } from '../usecases/tests/rig'
import * as door from './api/[...path]/route'

/*
 * Every route handler is called as the framework calls it: with what it should take, with what it should refuse, and
 * with an identifier that is none.
 */
type Handler = (request: NextRequest, context: { params: Promise<{ path: string[] }> }) => Promise<Response>
interface Example {
  readonly id?: string
  readonly query?: string
  readonly body?: unknown
  readonly status: number
}

const orders = (...ids: number[]): Example => ({ body: { orders: ids }, status: 200 })
const typed = {
  key: 'typed-0001',
  number: '',
  shipTo: {
    name: 'Noor Van Acker',
    company: '',
    lines: ['Coupure Links 88'],
    city: 'Gent',
    postcode: '9000',
    region: '',
    country: 'BE',
  },
  email: '',
  phone: '',
  items: [{ what: 'Book', quantity: 1, weight: 500, size: [200, 150, 30] }],
  value: 1500,
  wording: '',
  promisedBy: '',
}
/** A call for each endpoint, against five imported orders; a newer version of a list is refused with 409. */
const examples: Readonly<Record<Exclude<Endpoint, `${string}/file` | `${string}/files`>, Example>> = {
  'GET /api/line': { status: 200 },
  'POST /api/people/sign-in': { body: { email: 'nobody@mossgill.example', password: 'not a password' }, status: 401 },
  'POST /api/people/second': { body: { code: '123456' }, status: 401 },
  'POST /api/people/sign-out': { body: { odd: 1 }, status: 400 },
  'POST /api/people/welcome': { body: { secret: 'none', name: '', email: '', password: '' }, status: 404 },
  'POST /api/people/passkey': { body: {}, status: 200 },
  'PUT /api/people/passkey': { body: { key: 'none', response: { id: 'none' } }, status: 401 },
  'GET /api/people/me': { status: 200 },
  'PUT /api/people/me/password': { body: { before: 'not mine', password: 'four words do well' }, status: 422 },
  'POST /api/people/me/second': { body: {}, status: 200 },
  'PUT /api/people/me/second': { body: { code: 'abc' }, status: 422 },
  'DELETE /api/people/me/second': { body: { code: 'abc' }, status: 422 },
  'DELETE /api/people/me/sign-ins': { body: { which: 'others' }, status: 200 },
  'POST /api/people/me/passkeys': { body: {}, status: 200 },
  'PUT /api/people/me/passkeys': { body: { key: 'none', name: '', response: { id: 'none' } }, status: 409 },
  'DELETE /api/people/me/passkeys': { body: { id: 99 }, status: 409 },
  'POST /api/people/badge': { body: { badge: 'GB000000000000', code: '123456' }, status: 401 },
  'POST /api/people/badges': { body: { id: 4 }, status: 200 },
  'DELETE /api/people/badges': { body: { id: 99 }, status: 404 },
  'GET /api/people': { status: 200 },
  'POST /api/people': {
    body: { name: 'Somebody', email: 'somebody@mossgill.example', role: 'reader', location: null },
    status: 200,
  },
  'PUT /api/people': { body: { id: 99, ended: true }, status: 404 },
  'POST /api/people/links': { body: { id: 1 }, status: 200 },
  'DELETE /api/people/sign-ins': { body: { id: 99 }, status: 200 },
  'GET /api/people/proposals': { status: 200 },
  'POST /api/people/proposals': { body: { id: 99, agree: true }, status: 404 },
  'PUT /api/people/proposals': { body: { version: 0, kinds: [] }, status: 200 },
  'GET /api/people/audit': { query: 'search=reader', status: 200 },
  'GET /api/find': { query: 'q=MG-1', status: 200 },
  'GET /api/setup/calendar': { status: 200 },
  'POST /api/setup/calendar': { body: {}, status: 200 },
  'POST /api/desk/orders/:id/notices': { id: '1', body: { medium: 'mail' }, status: 404 },
  'PUT /api/desk/orders/:id/notices': { id: '1', body: { address: 'nobody@post.example' }, status: 404 },
  'PUT /api/desk/words': { body: { id: 999, answer: '' }, status: 404 },
  'GET /api/tracking/notices': { status: 200 },
  'PUT /api/tracking/notices': { body: { version: 0, plan: {} }, status: 422 },
  'POST /api/tracking/notices/preview': {
    body: { plan: {}, step: 'delivered', medium: 'mail', language: 'en', number: 'none' },
    status: 404,
  },
  'GET /api/tracking/page': { status: 200 },
  'PUT /api/tracking/page': { body: { version: 0, draft: {}, publish: false }, status: 422 },
  'POST /api/tracking/page/preview': {
    body: { draft: {}, channel: '', language: 'en', parcels: 1 },
    status: 200,
  },
  'PUT /api/tracking/page/logo': { body: {}, status: 422 },
  'GET /api/ledger/report': { query: 'by=week', status: 200 },
  'GET /api/ledger/report/rules': { status: 200 },
  'PUT /api/ledger/report': { body: { version: 0, accounts: {} }, status: 422 },
  'POST /api/ledger/report/print': { body: { month: '2020-01' }, status: 404 },
  'GET /api/ledger/refunds': { query: 'settled=yes&days=7', status: 200 },
  'POST /api/ledger/refunds': { body: { labels: [999] }, status: 200 },
  'PUT /api/ledger/refunds': { body: { label: 999, granted: 100, note: '' }, status: 404 },
  'GET /api/ledger/claims': { query: 'settled=yes', status: 200 },
  'POST /api/ledger/claims': { body: { ids: [999] }, status: 200 },
  'PUT /api/ledger/claims': { body: { id: 999, granted: 100, note: '' }, status: 404 },
  'GET /api/tracking/arrivals/lanes': { status: 200 },
  'GET /api/intake': { status: 200 },
  'POST /api/intake/imports': {
    body: { channel: 'trade-desk', file: 'none.csv', fileName: 'none.csv', mapping: {} },
    status: 404,
  },
  'GET /api/intake/imports/:id': { id: '1', status: 200 },
  'DELETE /api/intake/imports/:id': { id: '99', body: {}, status: 409 },
  'GET /api/intake/connections': { status: 200 },
  'POST /api/intake/connections': {
    body: { role: 'channel', kind: 'keyed-shop', name: '', settings: {}, on: true },
    status: 422,
  },
  'PUT /api/intake/connections/:id': {
    id: 'mossgill-shop',
    body: {
      role: 'channel',
      kind: 'keyed-shop',
      name: 'Mossgill Shop',
      settings: { address: 'http://shop.example', key: 'k', secret: 's' },
      on: true,
      version: 99,
    },
    status: 409,
  },
  'DELETE /api/intake/connections/:id': { id: 'nobody', body: { version: 1 }, status: 404 },
  'POST /api/intake/connections/:id/authorise': { id: 'mossgill-shop', body: {}, status: 404 },
  'POST /api/intake/connections/test': {
    body: {
      id: 'mossgill-shop',
      role: 'channel',
      kind: 'keyed-shop',
      name: 'Shop',
      settings: { address: 'https://shop.example/' },
      on: true,
    },
    status: 422,
  },
  'POST /api/intake/imports/all': { body: {}, status: 200 },
  'PATCH /api/intake/channels/:id': { id: 'mossgill-shop', body: { everyMinutes: 5 }, status: 200 },
  'POST /api/intake/channels/:id/import': { id: 'mossgill-shop', body: {}, status: 200 },
  'GET /api/intake/items': { query: 'q=PLT', status: 200 },
  'PUT /api/intake/items': { body: { rows: [{ sku: 'A-1' }], version: 99 }, status: 409 },
  'DELETE /api/intake/items': { body: { sku: 'nothing', version: 99 }, status: 409 },
  'POST /api/intake/items/learned': { body: { sku: 'nothing', version: 99 }, status: 409 },
  'GET /api/intake/wordings': { status: 200 },
  'PUT /api/intake/wordings': { body: { channel: 'mossgill-shop', rows: [], version: 99 }, status: 409 },
  'GET /api/rules/rulebook': { status: 200 },
  'GET /api/rules/editions': { status: 200 },
  'PUT /api/rules/rulebook': { body: { rulebook: {}, revision: 1 }, status: 422 },
  'POST /api/rules/rulebook/publish': { body: { revision: 99, note: '' }, status: 409 },
  'DELETE /api/rules/rulebook/publish': { body: { edition: 99 }, status: 409 },
  'POST /api/rules/rulebook/restore': { body: { edition: 99, revision: 1 }, status: 404 },
  'GET /api/rules/rerouting': { status: 200 },
  'GET /api/rules/suggestions': { status: 200 },
  'POST /api/rules/pinned/:id': { id: '99', body: { note: 'as agreed' }, status: 404 },
  'DELETE /api/rules/pinned/:id': { id: '99', body: {}, status: 404 },
  'GET /api/rules/trial': { query: 'days=7', status: 200 },
  'POST /api/rules/trials': { body: { from: '2026-01-01', until: '2026-01-31' }, status: 409 },
  'GET /api/rules/trials/newest': { status: 200 },
  'GET /api/rules/trials/:id': { id: '999', status: 404 },
  'DELETE /api/rules/trials/:id': { id: '999', body: {}, status: 409 },
  'GET /api/rules/trials/:id/changes': { id: '999', status: 404 },
  'GET /api/rules/trials/compare': { query: 'order=1', status: 200 },
  'GET /api/desk': { query: 'state=ready&sort=-value', status: 200 },
  'GET /api/desk/place': { query: 'state=ready&order=1', status: 200 },
  'POST /api/desk/typed': { body: typed, status: 200 },
  'POST /api/desk/typed/quote': { body: typed, status: 200 },
  'GET /api/desk/typed/items': { query: 'q=net', status: 200 },
  'GET /api/desk/orders/:id/recipient': { id: '1', status: 200 },
  'GET /api/desk/ids': { query: 'state=ready', status: 200 },
  'GET /api/desk/spread': { status: 200 },
  'POST /api/desk/address': { body: { text: 'Ann Peeters\nKouter 1\n9000 Gent', country: 'BE' }, status: 200 },
  'POST /api/desk/orders/combine': { body: { groups: [[1, 99]] }, status: 409 },
  'GET /api/dispatch/day': { status: 200 },
  'PUT /api/dispatch/waves': { body: { version: 0, rules: [] }, status: 200 },
  'GET /api/dispatch/bench': { query: 'bench=One', status: 200 },
  'POST /api/dispatch/bench': { body: { bench: 'One', code: 'nothing', take: false }, status: 404 },
  'POST /api/dispatch/bench/scans': {
    body: { check: 99, scans: [{ key: 'a key of a scan', code: 'A', typed: null, at: '2026-01-01T00:00:00.000Z' }] },
    status: 404,
  },
  'DELETE /api/dispatch/bench/scans': { body: { check: 99 }, status: 404 },
  'PUT /api/dispatch/bench/buying': { body: { code: 'NOTHING' }, status: 404 },
  'POST /api/dispatch/bench/buying': { body: { bench: 'One', code: 'NOTHING', expected: 0 }, status: 404 },
  'PUT /api/dispatch/bench/settings': {
    body: { bench: 'One', settings: { printer: 'raw', address: 'printer-1', prints: 'asked', scale: '' } },
    status: 200,
  },
  'POST /api/dispatch/bench/prints': { body: { bench: 'One', label: 99, key: 'a key of a print' }, status: 409 },
  'POST /api/dispatch/bench/weight': { body: { bench: 'Nine' }, status: 404 },
  'PUT /api/dispatch/bench/weight': { body: { check: 99, grams: 10, why: '' }, status: 404 },
  'PUT /api/dispatch/bench/aside': { body: { check: 99, why: 'torn' }, status: 404 },
  'GET /api/desk/letters': { status: 200 },
  'POST /api/desk/letters': {
    body: { key: 'a key of letters', orders: [99], question: 'po box', text: { subject: '', body: '' }, hold: true },
    status: 409,
  },
  'POST /api/desk/letters/preview': {
    body: { orders: [1], question: 'telephone', text: { subject: '', body: '' }, hold: true },
    status: 200,
  },
  'PUT /api/desk/letters/texts': { body: { name: 'Gift', text: { subject: 'A', body: 'Hello' } }, status: 200 },
  'DELETE /api/desk/letters/texts': { body: { id: 99 }, status: 404 },
  'GET /api/desk/views': { status: 200 },
  'PUT /api/desk/views': {
    body: { name: 'Mine', shared: false, query: 'state=ready', columns: { hidden: [], order: [], sizes: {} } },
    status: 200,
  },
  'DELETE /api/desk/views': { body: { id: 99 }, status: 404 },
  'POST /api/desk/ways': { body: { orders: [1] }, status: 200 },
  'PUT /api/desk/ways': { body: { key: 'another key', orders: [], edits: [], address: null }, status: 409 },
  'POST /api/desk/numbers': { body: { orders: [1] }, status: 200 },
  'GET /api/desk/edits': { status: 200 },
  'POST /api/desk/edits': {
    body: { key: 'a key of its own', orders: [1], edits: [{ do: 'tag', add: ['seen'], remove: [] }] },
    status: 200,
  },
  'DELETE /api/desk/edits': { body: { edit: 99 }, status: 404 },
  'POST /api/desk/edits/preview': {
    body: { orders: [1], edits: [{ do: 'pin', decision: 'priority', value: 'urgent' }] },
    status: 200,
  },
  'GET /api/desk/orders/:id': { id: '1', status: 200 },
  'GET /api/desk/orders/:id/address': { id: '1', status: 200 },
  'PUT /api/desk/orders/:id/address': { id: '99', body: { address: null }, status: 404 },
  'POST /api/desk/orders/:id/numbers': { id: '99', body: { carrier: '', numbers: ['DL0000001'] }, status: 404 },
  'POST /api/desk/orders/:id/apart': { id: '1', body: {}, status: 409 },
  'GET /api/desk/orders/:id/deciding': { id: '1', status: 200 },
  'POST /api/desk/orders/:id/example': { id: '1', body: { name: 'One' }, status: 200 },
  'GET /api/desk/orders/:id/packing': { id: '1', status: 200 },
  'POST /api/desk/orders/:id/pins': { id: '1', body: { decision: 'priority', value: 'urgent' }, status: 200 },
  'DELETE /api/desk/orders/:id/pins': { id: '1', body: { decision: 'priority' }, status: 200 },
  'POST /api/dispatch/plan': orders(1, 2),
  'GET /api/dispatch/batches': { status: 200 },
  'POST /api/dispatch/batches': { body: { orders: [1], expected: 1 }, status: 409 },
  'GET /api/dispatch/batches/:id': { id: '99', status: 404 },
  'POST /api/dispatch/batches/:id': { id: '99', body: { dispatched: true }, status: 404 },
  'POST /api/dispatch/batches/:id/print': { id: '99', body: {}, status: 404 },
  'POST /api/dispatch/batches/:id/picks': { id: '99', body: {}, status: 404 },
  'POST /api/dispatch/labels/:id/print': { id: '99', body: {}, status: 404 },
  'POST /api/dispatch/labels/:id/void': { id: '99', body: {}, status: 404 },
  'POST /api/dispatch/labels/void': { body: { labels: [99] }, status: 200 },
  'GET /api/dispatch/manifests': { status: 200 },
  'POST /api/dispatch/manifests': { body: { again: 99 }, status: 409 },
  'PUT /api/dispatch/manifests': { body: { labels: [99], left: true }, status: 409 },
  'POST /api/dispatch/manifests/:id/print': { id: '99', body: {}, status: 404 },
  'POST /api/dispatch/manifests/:id/containers': { id: '99', body: {}, status: 404 },
  'GET /api/dispatch/door': { query: 'carrier=heron&location=ghent', status: 200 },
  'POST /api/dispatch/door': {
    body: { manifest: 99, driver: '', signature: [], leaving: 0, parcels: 0 },
    status: 404,
  },
  'POST /api/dispatch/door/scans': {
    body: { carrier: 'heron', location: 'nowhere', code: 'X', container: null },
    status: 422,
  },
  'DELETE /api/dispatch/door/scans': { body: { manifest: 99, label: 1, position: 1 }, status: 404 },
  'POST /api/dispatch/door/containers': { body: { carrier: 'nobody', location: 'ghent' }, status: 404 },
  'GET /api/tracking/returns': { query: 'list=asked', status: 200 },
  'POST /api/tracking/returns': {
    body: { label: 99, pieces: [{ item: 0, quantity: 1 }], reason: 'damaged', words: '' },
    status: 404,
  },
  'PUT /api/tracking/returns': {
    body: { id: 99, take: true, why: '', service: '', paidByBuyer: false },
    status: 404,
  },
  'PUT /api/tracking/returns/paid': { body: { id: 99 }, status: 404 },
  'POST /api/tracking/returns/arrivals': { body: { code: 'NOTHING' }, status: 404 },
  'PUT /api/tracking/returns/arrivals': {
    body: {
      id: 99,
      found: [{ item: 0, quantity: 1, condition: 'as new', kept: true }],
      ...{ amount: null, withShipping: true, note: '' },
    },
    status: 404,
  },
  'GET /api/dispatch/stock': { query: 'location=ghent&only=short', status: 200 },
  'PUT /api/dispatch/stock': { body: { location: 'nowhere', sku: 'A', onHand: 1, note: '' }, status: 422 },
  'GET /api/dispatch/stock/moves': { query: 'location=ghent&sku=TLS-TWEEZ', status: 200 },
  'PUT /api/dispatch/stock/channels': { body: { channel: 'nobody', stock: 'told', location: '' }, status: 404 },
  'GET /api/dispatch/counter': { query: 'location=ghent', status: 200 },
  'POST /api/dispatch/counter': { body: { location: 'ghent', words: 'Nobody' }, status: 404 },
  'PUT /api/dispatch/counter': { body: { label: 99, to: 'Ada', signature: [[1, 1, 2, 2]] }, status: 404 },
  'PUT /api/dispatch/counter/shelf': { body: { location: 'ghent', code: 'NOTHING', place: 'A1' }, status: 404 },
  'PUT /api/dispatch/counter/late': { body: { label: 99, what: 'keep' }, status: 404 },
  'GET /api/dispatch/collections': { query: 'from=2026-11-30', status: 200 },
  'POST /api/dispatch/collections': {
    body: {
      ...{ carrier: 'heron', location: 'ghent', day: '2026-01-01', confirmation: '', key: 'a key of a collection' },
      plan: { from: '14:00', until: '18:00', place: '', notes: '', parcels: 1, pallets: 0, weight: 0 },
    },
    status: 422,
  },
  'PUT /api/dispatch/collections': {
    body: {
      ...{ id: 99, confirmation: '' },
      plan: { from: '14:00', until: '18:00', place: '', notes: '', parcels: 1, pallets: 0, weight: 0 },
    },
    status: 404,
  },
  'DELETE /api/dispatch/collections': { body: { id: 99 }, status: 404 },
  'POST /api/dispatch/collections/terms': {
    body: { carrier: 'heron', location: 'nowhere', day: '2026-11-30' },
    status: 422,
  },
  'PUT /api/dispatch/collections/agreements': { body: { version: 9, agreements: [] }, status: 409 },
  'GET /api/dispatch/slips': { status: 200 },
  'PUT /api/dispatch/slips': { body: { slip: {}, version: 1 }, status: 422 },
  'DELETE /api/dispatch/slips': { body: { id: 'nothing', version: 99 }, status: 409 },
  'POST /api/dispatch/slips/preview': { body: { slip: {}, number: '' }, status: 422 },
  'GET /api/tracking': { query: 'state=failed', status: 200 },
  'GET /api/tracking/board': { status: 200 },
  'GET /api/tracking/board/spread': { status: 200 },
  'GET /api/tracking/board/days': { status: 200 },
  'POST /api/tracking/numbers': { body: { lines: [], take: false }, status: 200 },
  'GET /api/tracking/arrivals': { status: 200 },
  'POST /api/tracking': { body: { retry: 'posts', id: 'all' }, status: 200 },
  'GET /api/ledger': { query: 'from=2026-11-01&until=2026-11-30', status: 200 },
  'GET /api/ledger/balance': { status: 200 },
  'PUT /api/ledger/balance': { body: { ceiling: 50_000 }, status: 200 },
  'POST /api/ledger/balance/top-up': {
    body: { carrier: 'nobody', amount: 100, key: '5c0dbd1e-3a44-4b43-8a9e-0f2c7f9f3b11' },
    status: 404,
  },
  'POST /api/ledger/balance/invoices': { query: 'carrier=nobody', body: 'a,b', status: 404 },
  'PUT /api/ledger/balance/invoices': { query: 'carrier=nobody&number=1', body: 'a,b', status: 404 },
  'DELETE /api/ledger/balance/invoices': { body: { invoice: 99 }, status: 404 },
  'GET /api/setup': { status: 200 },
  'PUT /api/setup/lists': { body: { list: 'carriers', before: null, after: { id: '', name: '' } }, status: 422 },
  'POST /api/setup/lists/effect': {
    body: { list: 'carriers', before: null, after: { id: '', name: 'New' } },
    status: 200,
  },
  'GET /api/setup/uses': { query: 'list=carriers&key=heron', status: 200 },
  'PUT /api/setup/seller': {
    body: {
      before: { seller: { name: '', mail: '', units: 'metric', paper: 'A4' }, home: 'USD', micro: {} },
      after: { seller: { name: '', mail: '', units: 'metric', paper: 'A4' }, home: 'USD', micro: {} },
    },
    status: 409,
  },
  'GET /api/setup/privacy': { status: 200 },
  'PUT /api/setup/privacy': { body: { before: [], after: [{ scope: 'all', days: 0 }] }, status: 422 },
  'POST /api/setup/privacy/buyer': { body: { who: 'nobody@post.example' }, status: 200 },
  'POST /api/setup/privacy/copy': { body: { who: 'nobody@post.example' }, status: 404 },
  'POST /api/setup/privacy/forget': { body: { who: 'nobody@post.example', orders: [] }, status: 404 },
  'GET /api/setup/health': { status: 200 },
  'POST /api/setup/health/restored': { body: {}, status: 409 },
  'POST /api/setup/health/clock': { body: {}, status: 200 },
  'PUT /api/setup/demands': { body: { demand: { channel: 'mossgill-shop' } }, status: 200 },
  'POST /api/setup/carriers/:id': { id: 'nobody', body: {}, status: 404 },
  'PUT /api/setup/carriers/:id': { id: 'nobody', body: { services: ['x'] }, status: 404 },
  'GET /api/setup/tokens': { status: 200 },
  'POST /api/setup/tokens': { body: { name: 'Test', scopes: ['orders:read'] }, status: 200 },
  'DELETE /api/setup/tokens': { body: { id: 99 }, status: 404 },
  'GET /api/setup/webhooks': { status: 200 },
  'POST /api/setup/webhooks': { body: { name: 'x', url: 'nothing', types: [] }, status: 422 },
  'PUT /api/setup/webhooks': { body: { id: 'nobody', change: { on: true } }, status: 404 },
  'GET /api/setup/outside': { status: 200 },
  'POST /api/setup/outside': { body: { name: 'nobody' }, status: 404 },
  'PUT /api/intake/items/pictures': { query: 'name=none', body: {}, status: 404 },
  'PUT /api/setup/pictures': { query: 'preset=none', body: {}, status: 404 },
  'POST /api/setup/zones': { body: {}, status: 422 },
  'GET /api/ledger/tariffs': { status: 200 },
  'GET /api/ledger/tariffs/prices': { query: 'service=heron-road&from=2026-10-01', status: 200 },
  'DELETE /api/ledger/tariffs': { body: { service: 'nothing', from: '2026-01-01', version: 99 }, status: 409 },
  'POST /api/ledger/tariffs/quotes': { body: { location: 'gent' }, status: 400 },
}

let rig: Rig
/** Of one person a role. */
const cookies = new Map<Role, string>()

beforeAll(async () => {
  rig = await makeRig()
  await rig.stockShop([...demoOrders('small', 5, '2026-11-25')].slice(-5))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
  rig.realTime()
  Object.assign(globalThis, { gharryOpen: Promise.resolve(rig.gharry) })
  for (const role of roleIds) cookies.set(role, await signedIn(rig.gharry, role))
})
afterAll(async () => {
  Object.assign(globalThis, { gharryOpen: undefined })
  await rig.close()
})

async function signedIn(gharry: Application, role: Role): Promise<string> {
  const at = gharry.now().toISOString()
  const named = {
    name: `The ${role}`,
    email: `${role}@mossgill.example`,
    role,
    location: role === 'partner' ? 'leeds' : null,
  }
  const id = (await addPerson(gharry.db, { ...named, madeAt: at }))!
  return beginSignIn(gharry, { id, ...named, madeAt: at, endedAt: null }, true, 'test', { address: '', agent: '' })
}

async function ask(
  endpoint: string,
  { id = '1', query = '', body }: Omit<Example, 'status'>,
  role: Role | null = 'owner',
): Promise<Response> {
  const [method = '', pattern = ''] = endpoint.split(' ')
  const request = new NextRequest(
    `http://127.0.0.1:4600${pattern.replace(':id', encodeURIComponent(id))}${query && `?${query}`}`,
    {
      method,
      headers: {
        ...{ host: '127.0.0.1:4600', 'content-type': 'application/json', 'sec-fetch-site': 'same-origin' },
        ...(role === null ? {} : { cookie: `gharry=${cookies.get(role)!}` }),
      },
      ...(body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    },
  )
  const path = pattern
    .replace('/api/', '')
    .split('/')
    .map((part) => (part === ':id' ? id : part))
  return (door as unknown as Record<string, Handler>)[method]!(request, { params: Promise.resolve({ path }) })
}

const refusal: Record<string, unknown> = {
  code: expect.stringMatching(/^[a-z-]+$/),
  sentence: expect.stringMatching(/^.{8,}$/s),
}
const all = Object.entries(examples) as [Endpoint, Example][]

test.each(all)('%s answers what its example asks', async (endpoint, example) => {
  const before = await auditLength()
  const response = await ask(endpoint, example)
  const answer: unknown = await response.json()
  // What changes something is in the audit, with who did it.
  const changes = !endpoint.startsWith('GET ') && !leavesNothing.has(endpoint) && needs[endpoint] !== 'anybody'
  if (response.ok) expect([endpoint, (await auditLength()) - before > 0]).toEqual([endpoint, changes])
  expect([endpoint, response.status, response.status < 300 ? '' : answer]).toEqual([
    endpoint,
    example.status,
    example.status < 300 ? '' : expect.objectContaining(refusal),
  ])
})

const changing = all.filter(([endpoint, { body }]) => !endpoint.startsWith('GET') && typeof body !== 'string')
test.each(changing)('%s refuses a body that makes no sense, with a sentence', async (endpoint) => {
  for (const body of ['{"a":', '[]', '"text"', 'null', `{"a":${'['.repeat(2000)}${']'.repeat(2000)}}`]) {
    const response = await ask(endpoint, { body })
    const answer: unknown = await response.json()
    // What takes no body at all takes any that can be read; an identifier of nothing is refused then.
    expect([endpoint, body.slice(0, 8), response.status < 500]).toEqual([endpoint, body.slice(0, 8), true])
    if (response.status >= 400) expect(answer).toMatchObject(refusal)
  }
})

const ofOne = all.filter(([endpoint]) => endpoint.includes(':id') && !endpoint.includes('/channels/'))
test.each(ofOne)('%s knows no order, batch or label by an identifier that is none', async (endpoint, example) => {
  for (const id of ['0x10', '-1', '1e3', 'abc', '99999999999999999999', '1 or 1=1']) {
    const response = await ask(endpoint, { ...example, id })
    expect([endpoint, id, [400, 404, 409].includes(response.status)]).toEqual([endpoint, id, true])
    expect(await response.json()).toMatchObject(refusal)
  }
})

test('who has not signed in is answered nothing, and learns nothing', async () => {
  for (const [endpoint, example] of all) {
    if (needs[endpoint] === 'anybody') continue
    const response = await ask(endpoint, example, null)
    expect([endpoint, response.status]).toEqual([endpoint, 401])
    expect(await response.json()).toEqual({ ...refusal, code: 'signed-out' })
  }
})

test.each(roleIds)('%s: what the role may not is refused, with who may, and leaves nothing behind', async (role) => {
  const before = await auditLength()
  for (const [endpoint, example] of all) {
    const need = needs[endpoint]
    if (need === 'anybody' || may(role, need)) continue
    const response = await ask(endpoint, example, role)
    expect([endpoint, response.status]).toEqual([endpoint, 403])
    expect(await response.json()).toMatchObject({ ...refusal, code: 'not-allowed' })
  }
  expect(await auditLength()).toBe(before)
})

async function auditLength(): Promise<number> {
  const [row]: { n?: string | number }[] = await rig.gharry.db('audit').count({ n: 'seq' })
  return Number(row!.n)
}
