import { XMLBuilder } from 'fast-xml-parser'
import { z } from 'zod'
import { asked } from '../connections/kind'
import { csvFile } from '../files/spreadsheet'
import type { HandedFile, HandOver } from './partner'

export const orderFormats = ['json', 'csv', 'ubl'] as const
export type OrderFormat = (typeof orderFormats)[number]
export const paperFormats = ['pdf', 'zpl'] as const

/** What every kind of partner is asked: how it wants order and papers. */
export const documentSettings = {
  order: asked(z.enum(orderFormats, 'Choose how the order is sent.'), {
    label: 'The order as',
    input: 'choice',
    choices: [
      { id: 'json', name: 'JSON' },
      { id: 'csv', name: 'CSV, a line an item' },
      { id: 'ubl', name: 'UBL 2.1 order (XML)' },
    ],
  }),
  papers: asked(z.enum(paperFormats, 'Choose how papers are sent.'), {
    label: 'Label, slip and customs papers as',
    input: 'choice',
    choices: [
      { id: 'pdf', name: 'PDF' },
      { id: 'zpl', name: 'ZPL, for label printers' },
    ],
  }),
}

const types: Readonly<Record<OrderFormat, string>> = {
  json: 'application/json',
  csv: 'text/csv',
  ubl: 'application/xml',
}

/** The order of a hand-over as a file for the partner's program. */
export function orderDocument(what: HandOver, format: OrderFormat): HandedFile {
  const write = { json: jsonOrder, csv: csvOrder, ubl: ublOrder }[format]
  return {
    name: `${what.reference}.${format === 'ubl' ? 'xml' : format}`,
    type: types[format],
    content: Buffer.from(write(what)),
  }
}

const jsonOrder = ({ answerUrl: _answerUrl, ...what }: HandOver): string => `${JSON.stringify(what, null, 2)}\n`

const columns = [
  'reference',
  'order',
  'parcel',
  'tracking number',
  'carrier',
  'service',
  'ship on',
  'sku',
  'title',
  'quantity',
  'recipient',
  'company',
  'street',
  'postcode',
  'city',
  'region',
  'country',
  'phone',
  'inserts',
  'message',
]

function csvOrder(what: HandOver): Buffer {
  const { recipient } = what
  return csvFile(
    columns,
    what.parcels.flatMap(({ trackingNumber, items }, i) =>
      items.map(({ sku, title, quantity }) => ({
        ...{ reference: what.reference, order: what.order, parcel: String(i + 1), 'tracking number': trackingNumber },
        ...{ carrier: what.carrier, service: what.service, 'ship on': what.shipOn },
        ...{ sku, title, quantity: String(quantity), recipient: recipient.name, company: recipient.company },
        ...{ street: recipient.lines.join(', '), postcode: recipient.postcode, city: recipient.city },
        ...{ region: recipient.region, country: recipient.country, phone: recipient.phone },
        ...{ inserts: what.inserts.join(', '), message: what.message },
      })),
    ),
  )
}

const builder = new XMLBuilder({
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  format: true,
  suppressEmptyNode: true,
})

/**
 * An order of the Universal Business Language (UBL 2.1, OASIS; ISO/IEC 19845): the seller orders of the partner what is
 * to go to the recipient. Elements in the order of the schema; a line for each item of each parcel.
 */
function ublOrder(what: HandOver): string {
  const { recipient } = what
  const party = (name: string): object => ({ 'cac:Party': { 'cac:PartyName': { 'cbc:Name': name } } })
  const notes = [what.message, ...what.inserts.map((insert) => `Put in: ${insert}`)].filter(Boolean)
  const lines = what.parcels.flatMap(({ items }) => items)
  return builder.build({
    '?xml': { '@version': '1.0', '@encoding': 'UTF-8' },
    Order: {
      '@xmlns': 'urn:oasis:names:specification:ubl:schema:xsd:Order-2',
      '@xmlns:cac': 'urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2',
      '@xmlns:cbc': 'urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2',
      'cbc:UBLVersionID': '2.1',
      'cbc:ID': what.reference,
      'cbc:IssueDate': what.placedOn,
      ...(notes.length > 0 ? { 'cbc:Note': notes } : {}),
      'cbc:CustomerReference': what.order,
      'cac:BuyerCustomerParty': party(what.seller.name),
      'cac:SellerSupplierParty': party(what.location),
      'cac:Delivery': {
        'cbc:LatestDeliveryDate': what.shipOn,
        'cac:DeliveryLocation': {
          'cac:Address': {
            ...(recipient.lines[0] ? { 'cbc:StreetName': recipient.lines[0] } : {}),
            ...(recipient.lines[1] ? { 'cbc:AdditionalStreetName': recipient.lines[1] } : {}),
            'cbc:CityName': recipient.city,
            'cbc:PostalZone': recipient.postcode,
            ...(recipient.region ? { 'cbc:CountrySubentity': recipient.region } : {}),
            ...(recipient.lines.length > 2
              ? { 'cac:AddressLine': recipient.lines.slice(2).map((line) => ({ 'cbc:Line': line })) }
              : {}),
            'cac:Country': { 'cbc:IdentificationCode': recipient.country },
          },
        },
        'cac:CarrierParty': { 'cac:PartyName': { 'cbc:Name': what.carrier } },
        'cac:DeliveryParty': {
          'cac:PartyName': { 'cbc:Name': recipient.company || recipient.name },
          'cac:Contact': {
            'cbc:Name': recipient.name || recipient.company,
            ...(recipient.phone ? { 'cbc:Telephone': recipient.phone } : {}),
          },
        },
        'cac:Shipment': {
          'cbc:ID': what.parcels[0]?.trackingNumber ?? what.reference,
          'cac:TransportHandlingUnit': what.parcels.map(({ trackingNumber }) => ({ 'cbc:ID': trackingNumber })),
        },
      },
      'cac:OrderLine': lines.map(({ sku, title, quantity }, i) => ({
        'cac:LineItem': {
          'cbc:ID': String(i + 1),
          'cbc:Quantity': { '@unitCode': 'EA', '#text': String(quantity) },
          'cac:Item': { 'cbc:Name': title || sku, 'cac:SellersItemIdentification': { 'cbc:ID': sku } },
        },
      })),
    },
  })
}
