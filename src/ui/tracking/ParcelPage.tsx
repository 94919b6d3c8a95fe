import { DateTime } from 'luxon'
import { progressOf } from '@/core/tracking'
import type { ParcelView } from '@/usecases/tracking/trackParcel'

const steps = ['Announced', 'Collected', 'On its way', 'With the driver', 'Delivered']
const headline: Readonly<Record<string, string>> = {
  announced: 'It is packed and waits for the carrier',
  collected: 'The carrier has it',
  'in transit': 'It is on its way',
  'out for delivery': 'It comes today',
  delivered: 'It has arrived',
  'delivery failed': 'Nobody was there; it is tried again',
  'held at customs': 'It is held at customs',
  'waiting to be fetched': 'It waits for you to fetch it',
  returned: 'It went back to us',
  lost: 'The carrier cannot find it: we look into it',
}
const day = (text: string): string => DateTime.fromISO(text, { zone: 'utc' }).toFormat('cccc d LLLL')

/** What a customer reads on a phone: where is it, when will it come. */
export function ParcelPage({ parcel }: { parcel: ParcelView }) {
  const at = progressOf(parcel.status)
  return (
    <main className="mx-auto min-h-dvh max-w-md bg-sheet px-5 py-8">
      <p className="text-soft">
        {parcel.seller && `${parcel.seller}, `}order {parcel.orderNumber}
      </p>
      <h1 className="mt-2 text-title leading-tight">{headline[parcel.status] ?? parcel.status}</h1>
      {parcel.deliveredAt ? (
        <p className="mt-1 text-lead">on {day(parcel.deliveredAt)}</p>
      ) : (
        parcel.arrivesOn && <p className="mt-1 text-lead">Expected on {day(parcel.arrivesOn)}</p>
      )}
      <ol className="mt-6 flex" aria-label="Progress">
        {steps.map((step, i) => (
          <li
            key={step}
            aria-current={i === at ? 'step' : undefined}
            className="relative flex-1 text-center text-small"
          >
            {i > 0 && (
              <span
                aria-hidden
                className={`absolute top-[7px] right-1/2 h-0.5 w-full ${i <= at ? 'bg-done-mark' : 'bg-hair'}`}
              />
            )}
            <span
              aria-hidden
              className={`relative z-10 mx-auto block size-4 rotate-45 border-2 ${i <= at ? 'border-done-mark bg-done-mark' : 'border-hair bg-sheet'}`}
            />
            <span className={`mt-2 block ${i === at ? 'font-semibold' : 'text-soft'}`}>{step}</span>
          </li>
        ))}
      </ol>
      <dl className="mt-7 grid grid-cols-[auto_1fr] gap-x-4 gap-y-1 border-t border-hair pt-4">
        <dt className="text-soft">Carrier</dt>
        <dd>{parcel.carrierName}</dd>
        <dt className="text-soft">Tracking number</dt>
        <dd className="font-mono break-all">{parcel.trackingNumber}</dd>
      </dl>
      <h2 className="mt-6 text-lead">So far</h2>
      {parcel.events.length === 0 && (
        <p className="text-soft">The carrier has not reported anything yet. Look again this evening.</p>
      )}
      <ul>
        {[...parcel.events].reverse().map((event) => (
          <li key={event.at + event.status} className="border-b border-hair/70 py-2">
            <b className="font-semibold">{event.text}</b>
            <span className="block text-soft">
              {DateTime.fromISO(event.at, { zone: 'utc' }).toFormat('cccc d LLLL, HH:mm')}
              {event.place && `, ${event.place}`}
            </span>
          </li>
        ))}
      </ul>
      {parcel.sellerMail && (
        <p className="mt-8 text-soft">
          Something wrong?{' '}
          <a className="text-act underline" href={`mailto:${parcel.sellerMail}`}>
            {parcel.sellerMail}
          </a>
        </p>
      )}
    </main>
  )
}
