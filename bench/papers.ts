import { pdfFile } from '@/adapters'
import { gs1CheckDigit, layoutLabel, layoutSlip } from '@/core/papers'
import { demoOrders } from '../demo/orders'

/** One print file with a slip and a label for each of `count` orders. */
export async function benchPapers(count: number): Promise<{ seconds: number; megabytes: number; pages: number }> {
  const began = performance.now()
  const file = pdfFile('Bench')
  let bytes = 0
  let pages = 0
  const done = new Promise<void>((resolve) => {
    file.stream.on('data', (chunk: Buffer) => (bytes += chunk.length))
    file.stream.on('end', () => resolve())
  })
  let n = 0
  for (const order of demoOrders('small', 7, '2026-11-20')) {
    if (n++ >= count) break
    const to = [
      order.ship_to.name,
      order.ship_to.company,
      ...order.ship_to.street,
      `${order.ship_to.postcode} ${order.ship_to.city}`,
      order.ship_to.country,
    ].filter(Boolean)
    const digits = `35490001${String(n).padStart(9, '0')}`
    const slip = layoutSlip(
      {
        orderNumber: order.number,
        channelName: 'Mossgill Shop',
        placedOn: '20 Nov 2026',
        buyerName: order.customer.name,
        toLines: to,
        items: order.lines,
        country: 'BE',
        value: '€10.00',
        quantity: 1,
        wording: 'Free',
        message: '',
        tags: ['live'],
        trackingNumber: 'RR473124829GB',
        parcelText: '',
        reprint: '',
        inserts: [],
      },
      {
        id: 's',
        name: 'S',
        heading: 'Mossgill Aquatics',
        closing: 'Thank you, {{ buyer.firstName }}. Order {{ order.number }}.',
      },
    )
    for (const page of slip) file.add(page)
    file.add(
      layoutLabel({
        carrierName: 'Heron Parcel',
        serviceName: 'Heron Road',
        trackingNumber: `00${digits}${gs1CheckDigit(digits)}`,
        symbology: 'gs1-128',
        routing: 'R1',
        reference: order.number,
        weightText: '1.2 kg',
        shippedOn: '2026-11-20',
        parcelText: '1 of 1',
        marks: [],
        from: { lines: ['Mossgill Aquatics', 'Wiedauwkaai 23', '9000 Gent', 'BELGIUM'] },
        to: { lines: to },
      }),
    )
    pages += slip.length + 1
  }
  file.end()
  await done
  return {
    seconds: Number(((performance.now() - began) / 1000).toFixed(2)),
    megabytes: Number((bytes / 1e6).toFixed(2)),
    pages,
  }
}
