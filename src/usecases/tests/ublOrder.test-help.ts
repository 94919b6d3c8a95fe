/** An order as a customer's system writes it (UBL 2.1), with a line for two pieces at 25.00. */
export const ublOrder = (id: string): string => `<?xml version="1.0" encoding="UTF-8"?>
<Order xmlns="urn:oasis:names:specification:ubl:schema:xsd:Order-2"
  xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2"
  xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2">
  <cbc:UBLVersionID>2.1</cbc:UBLVersionID>
  <cbc:ID>${id}</cbc:ID>
  <cbc:IssueDate>2026-11-25</cbc:IssueDate>
  <cbc:DocumentCurrencyCode>EUR</cbc:DocumentCurrencyCode>
  <cac:BuyerCustomerParty><cac:Party>
    <cac:PartyName><cbc:Name>Kiosk Leuven BV</cbc:Name></cac:PartyName>
    <cac:Contact><cbc:Name>Lotte Maes</cbc:Name><cbc:Telephone>+32 16 12 34 56</cbc:Telephone>
      <cbc:ElectronicMail>lotte@kiosk-leuven.example</cbc:ElectronicMail></cac:Contact>
  </cac:Party></cac:BuyerCustomerParty>
  <cac:Delivery>
    <cac:DeliveryLocation><cac:Address>
      <cbc:StreetName>Bondgenotenlaan</cbc:StreetName><cbc:BuildingNumber>20</cbc:BuildingNumber>
      <cbc:CityName>Leuven</cbc:CityName><cbc:PostalZone>3000</cbc:PostalZone>
      <cac:Country><cbc:IdentificationCode>BE</cbc:IdentificationCode></cac:Country>
    </cac:Address></cac:DeliveryLocation>
    <cac:RequestedDeliveryPeriod><cbc:EndDate>2026-12-10</cbc:EndDate></cac:RequestedDeliveryPeriod>
  </cac:Delivery>
  <cac:AnticipatedMonetaryTotal>
    <cbc:LineExtensionAmount currencyID="EUR">50.00</cbc:LineExtensionAmount>
    <cbc:PayableAmount currencyID="EUR">60.50</cbc:PayableAmount>
  </cac:AnticipatedMonetaryTotal>
  <cac:OrderLine><cac:LineItem>
    <cbc:ID>10</cbc:ID><cbc:Quantity unitCode="EA">2</cbc:Quantity>
    <cac:Price><cbc:PriceAmount currencyID="EUR">25.00</cbc:PriceAmount></cac:Price>
    <cac:Item><cbc:Name>Water conditioner &amp; more</cbc:Name>
      <cac:SellersItemIdentification><cbc:ID>W-1</cbc:ID></cac:SellersItemIdentification></cac:Item>
  </cac:LineItem></cac:OrderLine>
</Order>
`
