import { demoItems } from './items'

/** How Gharry signs in at the SFTP server of the wholesale customers. */
export const deskCredentials = { user: 'mossgill', password: 'demo-desk-password' }

interface Customer {
  readonly number: string
  readonly name: string
  readonly contact: string
  readonly street: string
  readonly house: string
  readonly postcode: string
  readonly city: string
  readonly country: string
}
const [nets, food, lamps] = demoItems.filter(({ tags, dangerousGoods }) => tags.length === 0 && dangerousGoods === '')
const customers: readonly Customer[] = [
  {
    ...{
      number: 'WS-3101',
      name: 'Vijverhof & Maes BV',
      contact: 'Lotte Maes',
      street: 'Bondgenotenlaan',
      house: '20',
    },
    ...{ postcode: '3000', city: 'Leuven', country: 'BE' },
  },
  {
    ...{ number: 'WS-3102', name: 'Aquaria Visser NV', contact: 'Daan Visser', street: 'Boschstraat', house: '41' },
    ...{ postcode: '6211 AT', city: 'Maastricht', country: 'NL' },
  },
  {
    ...{
      number: 'WS-3103',
      name: 'Teichweg Keller GmbH',
      contact: 'Jana Keller',
      street: 'Venloer Straße',
      house: '310',
    },
    ...{ postcode: '50823', city: 'Köln', country: 'DE' },
  },
]

/** Files as wholesale customers send them: a table, an order as UBL, lines of JSON. The same day, the same files. */
export function deskFiles(day: string): { readonly name: string; readonly content: string; readonly age: number }[] {
  const [first, second, third] = customers as [Customer, Customer, Customer]
  const csv = [
    'order number,order date,company,name,street,postcode,city,country,sku,quantity',
    ...[nets, food].map(
      (item) =>
        `${first.number},${day},${first.name},${first.contact},${first.street} ${first.house},${first.postcode},${first.city},${first.country},${item?.sku},6`,
    ),
  ].join('\n')
  const json = JSON.stringify({
    number: third.number,
    placedAt: day,
    buyer: { name: third.contact, email: 'jana@teichweg.example' },
    shipTo: {
      ...{ name: third.contact, company: third.name, lines: [`${third.street} ${third.house}`] },
      ...{ postcode: third.postcode, city: third.city, country: third.country },
    },
    items: [{ sku: food?.sku, quantity: 12 }],
  })
  return [
    { name: `vijverhof-${day}.csv`, content: csv, age: 900 },
    { name: `${second.number}.xml`, content: ubl(second, day), age: 600 },
    { name: `teichweg-${day}.jsonl`, content: `${json}\n`, age: 300 },
  ]
}

const xml = (text: string): string => text.replace(/&/g, '&amp;').replace(/</g, '&lt;')

const ubl = (customer: Customer, day: string): string => `<?xml version="1.0" encoding="UTF-8"?>
<Order xmlns="urn:oasis:names:specification:ubl:schema:xsd:Order-2"
  xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2"
  xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2">
  <cbc:UBLVersionID>2.1</cbc:UBLVersionID>
  <cbc:ID>${customer.number}</cbc:ID>
  <cbc:IssueDate>${day}</cbc:IssueDate>
  <cbc:DocumentCurrencyCode>EUR</cbc:DocumentCurrencyCode>
  <cac:BuyerCustomerParty><cac:Party>
    <cac:PartyName><cbc:Name>${xml(customer.name)}</cbc:Name></cac:PartyName>
    <cac:Contact><cbc:Name>${xml(customer.contact)}</cbc:Name></cac:Contact>
  </cac:Party></cac:BuyerCustomerParty>
  <cac:Delivery><cac:DeliveryAddress>
    <cbc:StreetName>${xml(customer.street)}</cbc:StreetName><cbc:BuildingNumber>${customer.house}</cbc:BuildingNumber>
    <cbc:CityName>${xml(customer.city)}</cbc:CityName><cbc:PostalZone>${customer.postcode}</cbc:PostalZone>
    <cac:Country><cbc:IdentificationCode>${customer.country}</cbc:IdentificationCode></cac:Country>
  </cac:DeliveryAddress></cac:Delivery>
  <cac:OrderLine><cac:LineItem>
    <cbc:ID>1</cbc:ID><cbc:Quantity unitCode="EA">4</cbc:Quantity>
    <cac:Item><cbc:Name>${xml(lamps?.title ?? '')}</cbc:Name>
      <cac:SellersItemIdentification><cbc:ID>${lamps?.sku}</cbc:ID></cac:SellersItemIdentification></cac:Item>
  </cac:LineItem></cac:OrderLine>
</Order>
`
