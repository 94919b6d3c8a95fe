'use client'
import { asTyped } from '../../kit/read'
import { weightText } from '../../kit/format'
import { useQuery } from '@tanstack/react-query'
import { money, plainAmount } from '@/core/units'
import type { TariffPrices } from '@/usecases/ledger/tariffs'
import { call, sentenceOf } from '../../kit/api'

/** What one tariff charges: a row for each weight, a column for each zone, and its surcharges beside them. */
export function RateCard({ service, from, name }: { service: string; from: string; name: string }) {
  const { data, error } = useQuery({
    queryKey: ['tariffs', 'prices', service, from],
    queryFn: () => call('GET /api/ledger/tariffs/prices', { query: { service, from } }),
    placeholderData: (before) => before,
  })
  return (
    <section aria-label={`Prices of ${name} from ${from}`} className="mt-5">
      <h2 className="mb-1 text-lead">
        {name}{' '}
        <span className="font-normal text-soft">
          from {from}
          {data && `, in ${data.currency}`}
        </span>
      </h2>
      {error && <p className="text-lost">{sentenceOf(error)}</p>}
      {data && (
        <div className="panes [--panes:minmax(0,1fr)_340px] items-start gap-5">
          <Prices of={data} />
          <Surcharges of={data} />
        </div>
      )}
    </section>
  )
}

function Prices({ of: { zones, currency } }: { of: TariffPrices }) {
  const names = Object.keys(zones)
  const weights = [...new Set(names.flatMap((zone) => zones[zone]!.bands.map(({ upTo }) => upTo)))].sort(
    (a, b) => a - b,
  )
  const shown = (minor: number | undefined): string =>
    minor === undefined ? '–' : asTyped(plainAmount(money(minor, currency)))
  const extras = [
    ['once a shipment', (zone: string) => zones[zone]!.perShipment],
    ['at least', (zone: string) => zones[zone]!.minimum],
  ] as const
  return (
    <table className="bg-sheet">
      <thead>
        <tr className="border-y border-hair text-small text-soft">
          <th className="px-3 py-1.5">Up to</th>
          {names.map((zone) => (
            <th key={zone} className="px-3 text-right">
              Zone {zone}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {weights.map((weight) => (
          <tr key={weight} className="border-b border-hair/70">
            <td className="px-3 py-1">{weightText(weight)}</td>
            {names.map((zone) => (
              <td key={zone} className="px-3 text-right">
                {shown(zones[zone]!.bands.find(({ upTo }) => upTo === weight)?.price)}
              </td>
            ))}
          </tr>
        ))}
        {names.some((zone) => zones[zone]!.step) && (
          <tr className="border-b border-hair/70">
            <td className="px-3 py-1">above that</td>
            {names.map((zone) => {
              const { step } = zones[zone]!
              return (
                <td key={zone} className="px-3 text-right">
                  {step ? `+${shown(step.price)} each ${weightText(step.every)}` : '–'}
                </td>
              )
            })}
          </tr>
        )}
        {extras
          .filter(([, of]) => names.some((zone) => of(zone) !== undefined))
          .map(([what, of]) => (
            <tr key={what} className="border-b border-hair/70 text-soft">
              <td className="px-3 py-1">{what}</td>
              {names.map((zone) => (
                <td key={zone} className="px-3 text-right">
                  {shown(of(zone))}
                </td>
              ))}
            </tr>
          ))}
      </tbody>
    </table>
  )
}

function Surcharges({ of: { surcharges } }: { of: TariffPrices }) {
  return (
    <table className="w-full bg-sheet">
      <thead>
        <tr className="border-y border-hair text-small text-soft">
          <th className="px-3 py-1.5">Surcharge</th>
          <th className="pr-3">How much</th>
        </tr>
      </thead>
      <tbody>
        {surcharges.map(({ what, value }) => (
          <tr key={what} className="border-b border-hair/70 align-top">
            <td className="px-3 py-1 whitespace-nowrap">{what}</td>
            <td className="py-1 pr-3">{value}</td>
          </tr>
        ))}
        {surcharges.length === 0 && (
          <tr>
            <td className="px-3 py-1 text-soft" colSpan={2}>
              none
            </td>
          </tr>
        )}
      </tbody>
    </table>
  )
}
