/** A label as the carrier's books have it. */
export interface CarrierLabel {
  /** Of the first parcel. */
  trackingNumber: string
  parcels: { trackingNumber: string; symbology: 'code128' | 'gs1-128'; routing: string; returnNumber?: string }[]
  charged: { minor: number; currency: string }
  key: string
  state: 'bought' | 'voided'
  boughtAt: string
  /** The day on which it is handed over. */
  shipOn: string
  voidedAt?: string
  released: number
  service: string
  reference: string
}

/** What happened to a parcel. */
export interface CarrierEvent {
  id: string
  trackingNumber: string
  at: string
  status: string
  place: string
  text: string
}
