import { z } from 'zod'
import { hour } from './clock'
import type { CarrierLabel } from './label'
import type { Office } from './office'

const named = z.object({ trackingNumber: z.string() })

/** Labels that were sold: listed, voided, paid back. */
export function withLabels({ app, books, settings, clock, prepaid }: Office): void {
  const { habits } = settings
  app.get('/api/labels', (request) => {
    const { since, after, limit } = z
      .object({ since: z.iso.datetime(), after: z.string(), limit: z.coerce.number().int().min(1).max(1000) })
      .parse(request.query)
    const all = books
      .newest<CarrierLabel>('label', 200_000)
      .map((row) => row.document)
      .filter((label) => label.boughtAt >= since)
      .sort((a, b) => a.boughtAt.localeCompare(b.boughtAt) || a.trackingNumber.localeCompare(b.trackingNumber))
    const from = Number(after) || 0
    return { labels: all.slice(from, from + limit), cursor: String(from + limit), more: all.length > from + limit }
  })
  app.post('/api/labels/void', (request, reply) => {
    const { trackingNumber } = named.parse(request.body)
    const label = books.get<CarrierLabel>('label', trackingNumber)
    if (!label) return reply.code(404).send({ message: 'There is no such label.' })
    // Asked once more, as the first answer was lost: it is voided, whatever time it is by now.
    if (label.state === 'voided') return { refund: 'pending' }
    if (label.released > 1) return reply.code(409).send({ message: 'The parcel has been collected.' })
    const kept = habits.keeps?.(label, clock.now())
    if (kept) return reply.code(409).send({ message: kept })
    books.together(() => {
      books.put('label', trackingNumber, { ...label, state: 'voided', voidedAt: clock.now() })
      prepaid.charge(-label.charged.minor)
    })
    return { refund: 'pending' }
  })
  // Asked for, a refund is granted once its days are over; some labels are not paid back.
  app.post('/api/labels/refund', (request, reply) => {
    const { trackingNumber } = named.parse(request.body)
    const label = books.get<CarrierLabel>('label', trackingNumber)
    if (!label) return reply.code(404).send({ message: 'There is no such label.' })
    if (label.state !== 'voided') return reply.code(409).send({ message: 'The label is not voided.' })
    const against = habits.keepsMoney?.(label)
    if (against) return { state: 'refused', amount: null, message: against }
    const days = (Date.parse(clock.now()) - Date.parse(label.voidedAt ?? label.boughtAt)) / (24 * hour)
    return days < habits.refundDays
      ? { state: 'pending', amount: null, message: `Refunds take ${habits.refundDays} days.` }
      : { state: 'granted', amount: label.charged, message: '' }
  })
  // What tests and the demo need to set the scene.
  app.get('/admin/labels', () => books.newest<CarrierLabel>('label', 200_000).map((row) => row.document))
  app.post('/admin/labels', (request) => {
    const labels = request.body as (CarrierLabel & { transitDays?: number })[]
    books.together(() =>
      labels.forEach(({ transitDays, ...label }) => {
        if (transitDays !== undefined) books.put('way', label.trackingNumber, { transitDays })
        books.put('label', label.trackingNumber, label)
        books.put('key', label.key, { trackingNumber: label.trackingNumber })
        for (const { trackingNumber } of label.parcels)
          books.put('parcel', trackingNumber, { label: label.trackingNumber })
      }),
    )
    return { stored: labels.length }
  })
}
