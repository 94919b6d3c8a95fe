import { XMLBuilder } from 'fast-xml-parser'
import type { Fulfilment } from '../channel'

const builder = new XMLBuilder({
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  format: true,
  suppressEmptyNode: true,
})

/** What a despatch advice says besides the parcel. */
export interface Advice {
  readonly id: string
  readonly seller: string
  readonly at: Date
  /** The advice takes back what was advised under the same number. */
  readonly withdrawn: boolean
}

/**
 * A despatch advice of the Universal Business Language (UBL 2.1, OASIS; ISO/IEC 19845), its elements in the order of
 * the schema: header, order reference, parties, shipment with the tracking number as that of its handling unit, lines.
 */
export function ublDespatchAdvice(
  { remoteOrder, recipient, carrier, trackingNumber, trackingUrl, lines }: Fulfilment,
  { id, seller, at, withdrawn }: Advice,
): string {
  const [date = '', time = ''] = at.toISOString().split('T')
  const party = (name: string): object => ({ 'cac:Party': { 'cac:PartyName': { 'cbc:Name': name } } })
  return builder.build({
    '?xml': { '@version': '1.0', '@encoding': 'UTF-8' },
    DespatchAdvice: {
      '@xmlns': 'urn:oasis:names:specification:ubl:schema:xsd:DespatchAdvice-2',
      '@xmlns:cac': 'urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2',
      '@xmlns:cbc': 'urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2',
      'cbc:UBLVersionID': '2.1',
      'cbc:ID': id,
      'cbc:IssueDate': date,
      'cbc:IssueTime': time.slice(0, 8),
      ...(withdrawn ? { 'cbc:DocumentStatusCode': 'Cancelled' } : {}),
      'cbc:DespatchAdviceTypeCode': 'delivery',
      ...(trackingUrl ? { 'cbc:Note': trackingUrl } : {}),
      'cac:OrderReference': { 'cbc:ID': remoteOrder },
      'cac:DespatchSupplierParty': party(seller),
      'cac:DeliveryCustomerParty': party(recipient),
      'cac:Shipment': {
        'cbc:ID': trackingNumber,
        'cac:Consignment': {
          'cbc:ID': trackingNumber,
          'cac:CarrierParty': { 'cac:PartyName': { 'cbc:Name': carrier } },
        },
        'cac:TransportHandlingUnit': { 'cbc:ID': trackingNumber },
      },
      'cac:DespatchLine': lines.map(({ line, quantity }, i) => ({
        'cbc:ID': String(i + 1),
        'cbc:DeliveredQuantity': { '@unitCode': 'EA', '#text': String(quantity) },
        'cac:OrderLineReference': { 'cbc:LineID': line, 'cac:OrderReference': { 'cbc:ID': remoteOrder } },
        'cac:Item': { 'cbc:Name': `Order line ${line}` },
      })),
    },
  })
}
