import { XMLParser } from 'fast-xml-parser'
import type { RawItem, RawOrder } from '@/core/order'

/** What a document holds: an order, or why it is none that can be used. */
export type ReadDocument = { readonly order: RawOrder } | { readonly bad: string }

const orderNamespace = 'urn:oasis:names:specification:ubl:schema:xsd:Order-2'

// Entities are not resolved, whatever a document declares: none is needed in an order.
const parser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  removeNSPrefix: true,
  parseTagValue: false,
  parseAttributeValue: false,
  trimValues: true,
  processEntities: { enabled: true, maxTotalExpansions: 1000, maxExpandedLength: 100_000 },
  alwaysCreateTextNode: true,
  isArray: (name) => ['OrderLine', 'Delivery', 'PartyName', 'AddressLine', 'CommodityClassification'].includes(name),
})

type Node = { readonly [name: string]: Node | readonly Node[] | string | undefined }

/** The node at a path; the first of several. */
function at(node: Node | undefined, ...path: string[]): Node | undefined {
  let now: Node | undefined = node
  for (const name of path) {
    const next = now?.[name]
    now = (Array.isArray(next) ? next[0] : next) as Node | undefined
    if (typeof now !== 'object') return undefined
  }
  return now
}
const text = (node: Node | undefined, ...path: string[]): string | undefined => {
  const found = at(node, ...path)?.['#text']
  return typeof found === 'string' && found !== '' ? found : undefined
}
const list = (node: Node | undefined, name: string): readonly Node[] => {
  const found = node?.[name]
  if (found === undefined || typeof found === 'string') return []
  return (Array.isArray(found) ? found : [found]) as readonly Node[]
}

/** Reads an order of the Universal Business Language (UBL 2.1, OASIS; ISO/IEC 19845). */
export function readUblOrder(content: string): ReadDocument {
  if (/<!DOCTYPE|<!ENTITY/i.test(content.slice(0, 5000)) || /<!ENTITY/i.test(content))
    return { bad: 'The document declares entities or a document type: an order needs none, and it is not read.' }
  let document: Node
  try {
    document = parser.parse(content, true) as Node
  } catch (error) {
    return { bad: `The document is not well-formed XML: ${plain(error)}` }
  }
  const order = at(document, 'Order')
  if (!order)
    return {
      bad: `The document is no order: its root is ${Object.keys(document).find((name) => !name.startsWith('?')) ?? 'missing'}.`,
    }
  if (nameSpaceOf(content) !== orderNamespace)
    return { bad: `The document is no UBL 2.1 order: its name space is not ${orderNamespace}.` }
  const id = text(order, 'ID')
  if (!id) return { bad: 'The order has no ID.' }
  return { order: rawOrder(order, id) }
}

/** The name space of the root element; the reader leaves it out. */
function nameSpaceOf(content: string): string | undefined {
  const [, prefix, attributes = ''] = /<(?:([a-z_][\w.-]{0,60}):)?Order(\s[^>]{0,5000})?>/i.exec(content) ?? []
  return new RegExp(`\\sxmlns${prefix ? `:${prefix}` : ''}\\s?=\\s?["']([^"']{1,200})["']`).exec(attributes)?.[1]
}

const plain = (error: unknown): string =>
  error instanceof Error ? error.message.split('\n')[0]!.slice(0, 120) : 'unknown'

function rawOrder(order: Node, id: string): RawOrder {
  const buyer = at(order, 'BuyerCustomerParty', 'Party')
  const delivery = at(order, 'Delivery')
  const place =
    at(delivery, 'DeliveryLocation', 'Address') ?? at(delivery, 'DeliveryAddress') ?? at(buyer, 'PostalAddress')
  const receiver = at(delivery, 'DeliveryParty')
  const contact = at(receiver, 'Contact') ?? at(buyer, 'Contact')
  const currency = text(order, 'DocumentCurrencyCode')
  const buyerName = text(buyer, 'PartyName', 'Name')
  const receiverName = text(receiver, 'PartyName', 'Name')
  const contactName = text(contact, 'Name')
  const time = text(order, 'IssueTime')
  return {
    id,
    number: id,
    placedAt: [text(order, 'IssueDate'), time].filter(Boolean).join('T'),
    promisedBy: text(delivery, 'RequestedDeliveryPeriod', 'EndDate') ?? text(delivery, 'LatestDeliveryDate'),
    wording: text(order, 'DeliveryTerms', 'SpecialTerms') ?? text(order, 'DeliveryTerms', 'ID'),
    currency,
    value:
      text(order, 'AnticipatedMonetaryTotal', 'LineExtensionAmount') ??
      text(order, 'AnticipatedMonetaryTotal', 'PayableAmount'),
    buyer: {
      name: buyerName ?? contactName,
      email: text(contact, 'ElectronicMail') ?? text(buyer, 'Contact', 'ElectronicMail'),
      phone: text(contact, 'Telephone') ?? text(buyer, 'Contact', 'Telephone'),
    },
    shipTo: {
      name: contactName ?? receiverName ?? buyerName,
      company: contactName ? (receiverName ?? buyerName) : undefined,
      lines: streetLines(place),
      city: text(place, 'CityName'),
      postcode: text(place, 'PostalZone'),
      region: text(place, 'CountrySubentityCode') ?? text(place, 'CountrySubentity'),
      country: text(place, 'Country', 'IdentificationCode'),
    },
    items: list(order, 'OrderLine').map((line, i) => rawItem(at(line, 'LineItem'), i)),
  }
}

const streetLines = (place: Node | undefined): string[] =>
  [
    [text(place, 'StreetName'), text(place, 'BuildingNumber')].filter(Boolean).join(' '),
    text(place, 'AdditionalStreetName'),
    ...list(place, 'AddressLine').map((line) => text(line, 'Line')),
  ].filter((line): line is string => Boolean(line))

function rawItem(line: Node | undefined, index: number): RawItem {
  const item = at(line, 'Item')
  return {
    line: text(line, 'ID') ?? String(index + 1),
    sku: text(item, 'SellersItemIdentification', 'ID') ?? text(item, 'StandardItemIdentification', 'ID'),
    title: text(item, 'Name') ?? text(item, 'Description'),
    quantity: text(line, 'Quantity'),
    price: text(line, 'Price', 'PriceAmount'),
    hsCode: text(item, 'CommodityClassification', 'CommodityCode'),
    origin: text(item, 'OriginCountry', 'IdentificationCode'),
  }
}
