import { XMLBuilder, XMLParser } from 'fast-xml-parser'
import type { FastifyInstance } from 'fastify'
import type { CarrierLabel } from './label'

type Node = Readonly<Record<string, unknown>>
const parser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  parseTagValue: false,
  parseAttributeValue: false,
  alwaysCreateTextNode: true,
  isArray: (name) => ['Line', 'Piece', 'Dangerous', 'Item'].includes(name),
})
const builder = new XMLBuilder({ ignoreAttributes: false, attributeNamePrefix: '@', suppressEmptyNode: true })
const written = (content: object): string => builder.build({ FreightResponse: content })
const fault = (code: string, text: string, wait?: string): string =>
  written({ Fault: { '@code': code, ...(wait ? { '@wait': wait } : {}), '#text': text } })

const list = (node: Node, name: string): readonly Node[] => (node[name] as readonly Node[] | undefined) ?? []
const text = (node: Node, name: string): string => {
  const value = node[name]
  return typeof value === 'string' ? value : ''
}
const is = (node: Node, name: string): boolean => node[name] === 'yes'
const grams = (kilograms: unknown): number => Math.round(Number(kilograms) * 1000)
const lines = (node: Node): string[] => list(node, 'Line').map((line) => text(line, '#text'))
const uns = (node: Node): string[] => list(node, 'Dangerous').map((each) => String(each['@un']))

/** A booking as the carrier's own interface has it. */
function booking(asked: Node): object {
  const [sender, receiver, options] = [asked.Sender, asked.Receiver, asked.Options] as [Node, Node, Node]
  const customs = asked.Customs as Node | undefined
  return {
    service: asked['@service'],
    reference: asked['@reference'],
    shipOn: asked['@collect'],
    fromCountry: sender['@country'],
    from: { lines: lines(sender) },
    toCountry: receiver['@country'],
    toPostcode: receiver['@postcode'],
    to: { lines: lines(receiver) },
    parcels: list(asked, 'Piece').map((piece) => ({
      weight: grams(piece['@kg']),
      size: String(piece['@cm'])
        .split(' x ')
        .map((side) => Math.round(Number(side) * 10)),
      ...(piece['@notStackable'] === undefined ? {} : { notStackable: is(piece, '@notStackable') }),
      dangerousGoods: uns(piece),
    })),
    signature: is(options, '@signature'),
    insured: Number(options['@insured']),
    toCollect: Number(options['@cashOnDelivery']),
    residential: is(options, '@home'),
    postOfficeBox: is(options, '@poBox'),
    notStackable: is(options, '@notStackable'),
    dangerousGoods: uns(options),
    duties: options['@duties'],
    returnLabel: is(options, '@returnLabel'),
    customs: customs
      ? list(customs, 'Item').map((item) => ({
          description: text(item, '#text'),
          hsCode: item['@code'],
          origin: item['@origin'],
          quantity: Number(item['@pieces']),
          netWeight: grams(item['@kg']),
          value: { minor: Number(item['@minor']), currency: item['@currency'] },
        }))
      : null,
  }
}

interface Inner {
  readonly method: 'GET' | 'POST'
  readonly url: string
  readonly payload?: object
  readonly answer: (body: never) => object
}

/** What a document asks for, of the carrier's own interface; undefined when it asks for nothing that is known. */
function innerOf(request: Node): Inner | undefined {
  const [book, cancel, pay, report, bookings, payments] = [
    request.BookConsignment,
    request.CancelConsignment,
    request.PayIn,
    request.StatusReport,
    request.BookingReport,
    request.PaymentReport,
  ] as (Node | undefined)[]
  if (book)
    return {
      ...{ method: 'POST', url: '/api/labels', payload: booking(book) },
      answer: ({
        parcels,
        charged,
      }: {
        parcels: Record<string, string>[]
        charged: { minor: number; currency: string }
      }) => ({
        Consignment: {
          '@charge': String(charged.minor),
          '@currency': charged.currency,
          Piece: parcels.map(({ trackingNumber, symbology, routing, returnNumber }) => ({
            ...{ '@number': trackingNumber, '@symbology': symbology, '@routing': routing },
            ...(returnNumber ? { '@return': returnNumber } : {}),
          })),
        },
      }),
    }
  if (cancel)
    return {
      ...{ method: 'POST', url: '/api/labels/void', payload: { trackingNumber: cancel['@number'] } },
      answer: () => ({ Cancelled: { '@refund': 'pending' } }),
    }
  if (pay)
    return {
      ...{ method: 'POST', url: '/api/balance', payload: { minor: Number(pay['@minor']), currency: pay['@currency'] } },
      answer: () => ({ Received: {} }),
    }
  if (report)
    return {
      method: 'GET',
      url: `/api/events?${new URLSearchParams({ after: text(report, '@after'), limit: String(report['@most']) }).toString()}`,
      answer: ({ events, cursor, more }: { events: Record<string, string>[]; cursor: string; more: boolean }) => ({
        Events: {
          '@cursor': cursor,
          '@more': String(more),
          Event: events.map(({ id, trackingNumber, at, status, place, text }) => ({
            ...{ '@id': id, '@number': trackingNumber, '@at': at, '@status': status, '@place': place, '#text': text },
          })),
        },
      }),
    }
  if (bookings)
    return {
      method: 'GET',
      url: `/api/labels?${new URLSearchParams({ since: text(bookings, '@since'), after: text(bookings, '@after'), limit: String(bookings['@most']) }).toString()}`,
      answer: ({ labels, cursor, more }: { labels: CarrierLabel[]; cursor: string; more: boolean }) => ({
        Consignments: {
          '@cursor': cursor,
          '@more': String(more),
          Booked: labels.map(({ key, reference, service, trackingNumber, state, boughtAt, charged }) => ({
            ...{ '@message': key, '@reference': reference, '@service': service, '@number': trackingNumber },
            ...{ '@state': state, '@at': boughtAt, '@charge': String(charged.minor), '@currency': charged.currency },
          })),
        },
      }),
    }
  if (payments)
    return {
      method: 'GET',
      url: `/api/balance/payments?${new URLSearchParams({ since: text(payments, '@since') }).toString()}`,
      answer: (found: { payments: { key: string; minor: number; currency: string; at: string }[] }) => ({
        Payments: {
          '@count': String(found.payments.length),
          Paid: found.payments.map(({ key, minor, currency, at }) => ({
            ...{ '@message': key, '@minor': String(minor), '@currency': currency, '@at': at },
          })),
        },
      }),
    }
  return undefined
}

/**
 * An XML interface in front of a carrier's own: its books, prices and faults, in other words and with other manners.
 */
export function withFreightDocuments(app: FastifyInstance, password: string): void {
  app.addContentTypeParser(['application/xml', 'text/xml'], { parseAs: 'string' }, (_request, body, done) =>
    done(null, body),
  )
  app.post('/freight', async (request, reply) => {
    void reply.type('application/xml')
    let asked: Node | undefined
    try {
      asked = (parser.parse(String(request.body), true) as { FreightRequest?: Node }).FreightRequest
    } catch {
      return fault('REJECTED', 'The document is not well-formed.')
    }
    const inner = asked && innerOf(asked)
    if (!asked || !inner) return fault('REJECTED', 'The document asks for nothing that is known here.')
    if (asked['@password'] !== password) return fault('AUTH', 'Account or password is wrong.')
    const answered = await fetch(`http://127.0.0.1:${request.socket.localPort}${inner.url}`, {
      method: inner.method,
      headers: {
        authorization: `Bearer ${password}`,
        'idempotency-key': String(asked['@message']),
        ...(inner.payload ? { 'content-type': 'application/json' } : {}),
      },
      ...(inner.payload ? { body: JSON.stringify(inner.payload) } : {}),
    })
      .then(async (answer) => ({ status: answer.status, headers: answer.headers, body: await answer.text() }))
      .catch(() => undefined)
    if (!answered) {
      // The work was done, and nobody hears of it.
      request.raw.socket.destroy()
      return reply.hijack()
    }
    const { status, body, headers } = answered
    if (status === 429) return fault('SLOW', 'Too many documents.', headers.get('retry-after') ?? '1')
    if (status >= 500) return fault('BUSY', 'Something broke.')
    const said = jsonOf(body)
    if (said === undefined) return '<FreightResponse><Events'
    return status >= 400
      ? fault('REJECTED', String((said as { message?: string }).message))
      : written(inner.answer(said as never))
  })
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}
