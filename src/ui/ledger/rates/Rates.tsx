'use client'
import { home, homeSign } from '../../kit/locale'
import { skipToken, useQuery } from '@tanstack/react-query'
import dynamic from 'next/dynamic'
import {
  parseAsArrayOf,
  parseAsBoolean,
  parseAsString,
  parseAsStringLiteral,
  useQueryState,
  useQueryStates,
} from 'nuqs'
import { useMemo } from 'react'
import type { Offer } from '@/core/rating'
import { typedAmount, typedLength, typedWeight } from '../../kit/read'
import type { Exploration, Explored } from '@/usecases/ledger/exploreRates'
import { call, sentenceOf } from '../../kit/api'
import { Field, Select, TextInput } from '../../kit/Field'
import { amount, homeMoney, shortDay, weightText } from '../../kit/format'
import { Plain } from '../../kit/Screen'
import { LedgerHead } from '../LedgerHead'
import { aStep, typedStep } from '../../kit/step'

const Chart = dynamic(() => import('../../kit/Chart').then((module) => module.Chart), {
  ssr: false,
  loading: () => <div style={{ height: 240 }} />,
})

interface Form {
  readonly location: string
  readonly country: string
  readonly postcode: string
  readonly parcels: string
  readonly weight: string
  readonly size: string
  readonly insured: string
  readonly goods: string
  readonly day: string
}
const switches = [
  ['residential', 'to a home'],
  ['postOfficeBox', 'post-office box'],
  ['signature', 'signature'],
] as const
const wishes = ['cash on delivery', 'live goods', 'duties paid', 'tracking'] as const satisfies readonly Offer[]
type Switch = (typeof switches)[number][0]
type Names = Readonly<Record<string, string>>

// The shipment is in the address: it can be sent to a colleague.
const fields = {
  country: parseAsString.withDefault('DE'),
  postcode: parseAsString.withDefault('50667'),
  parcels: parseAsString.withDefault('1'),
  weight: parseAsString.withDefault('3 kg'),
  size: parseAsString.withDefault('40 × 30 × 20 cm'),
  insured: parseAsString.withDefault(''),
  goods: parseAsString.withDefault(''),
  day: parseAsString.withDefault(''),
}
const switched = {
  residential: parseAsBoolean.withDefault(true),
  postOfficeBox: parseAsBoolean.withDefault(false),
  signature: parseAsBoolean.withDefault(false),
}

/** All quotes for one shipment side by side, and how their costs run over the weight. */
export function Rates({
  locations,
  services,
}: {
  locations: readonly { readonly id: string; readonly name: string }[]
  services: Names
}) {
  const [form, setForm] = useQueryStates({ ...fields, location: parseAsString.withDefault(locations[0]?.id ?? '') })
  const [on, setOn] = useQueryStates(switched, aStep)
  const [needs, setNeeds] = useQueryState(
    'needs',
    parseAsArrayOf(parseAsStringLiteral(wishes)).withDefault([]).withOptions(aStep),
  )
  const asked = read(form, on, needs)
  const { data, error, isFetching } = useQuery({
    queryKey: ['rates', asked],
    queryFn: typeof asked === 'string' ? skipToken : () => call('POST /api/ledger/tariffs/quotes', { body: asked }),
    placeholderData: (before) => before,
    retry: false,
  })
  const put =
    (key: keyof Form) =>
    (event: { target: { value: string } }): void =>
      void setForm({ [key]: event.target.value }, typedStep(form[key], event.target.value))
  const field = (key: keyof Form, label: string, className: string, placeholder = '') => (
    <Field label={label}>
      <TextInput value={form[key]} placeholder={placeholder} onChange={put(key)} className={className} />
    </Field>
  )
  const failure = error ? sentenceOf(error) : ''
  const wrong = typeof asked === 'string' ? asked : failure
  return (
    <div className="flex h-full flex-col">
      <LedgerHead at="rates" about="What each service would charge, and when it would arrive" />
      <form
        className="flex flex-wrap items-end gap-x-3 gap-y-2 border-y border-hair bg-sheet px-5 py-2.5"
        onSubmit={(event) => event.preventDefault()}
      >
        <Field label="From">
          <Select value={form.location} onChange={(event) => void setForm({ location: event.target.value }, aStep)}>
            {locations.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Select>
        </Field>
        {field('country', 'To country', 'w-16')}
        {field('postcode', 'Postcode', 'w-24')}
        {field('parcels', 'Parcels', 'w-14')}
        {field('weight', 'Each weighs', 'w-20')}
        {field('size', 'Size', 'w-36')}
        {field('insured', `Insured, ${homeSign()}`, 'w-20', '0')}
        {field('goods', 'Dangerous goods', 'w-28', 'UN 3481')}
        <Field label="Ready on">
          <TextInput type="date" value={form.day} onChange={put('day')} className="w-36" />
        </Field>
        <div className="flex w-full flex-wrap gap-x-4 gap-y-1">
          {switches.map(([key, name]) => (
            <label key={key} className="flex min-h-[24px] items-center gap-1.5">
              <input
                type="checkbox"
                checked={on[key]}
                onChange={() => void setOn({ [key]: !on[key] })}
                className="size-4 accent-[var(--act)]"
              />
              {name}
            </label>
          ))}
          {wishes.map((wish) => (
            <label key={wish} className="flex min-h-[24px] items-center gap-1.5">
              <input
                type="checkbox"
                checked={needs.includes(wish)}
                onChange={() =>
                  void setNeeds(needs.includes(wish) ? needs.filter((other) => other !== wish) : [...needs, wish])
                }
                className="size-4 accent-[var(--act)]"
              />
              {wish}
            </label>
          ))}
          {wrong && (
            <p role="alert" className="ml-auto text-lost">
              {wrong}
            </p>
          )}
        </div>
      </form>
      <div
        className={`min-h-0 flex-1 overflow-auto px-5 pb-8 ${isFetching ? 'opacity-80' : ''}`}
        tabIndex={0}
        role="region"
        aria-label="Quotes"
      >
        {data && data.quotes.length === 0 && (
          <Plain title="No service takes this">
            The reasons stand below: what would have to change, and by how much.
          </Plain>
        )}
        {data && data.quotes.length > 0 && <QuoteTable explored={data} services={services} />}
        {data && data.curve.services.length > 0 && <Curve curve={data.curve} services={services} />}
        {data && data.refusals.length > 0 && (
          <section className="mt-4">
            <h2 className="text-small text-soft">Not possible</h2>
            <ul className="mt-1 columns-2 gap-8">
              {data.refusals.map((refusal) => (
                <li key={refusal.service} className="break-inside-avoid border-b border-hair/60 py-1">
                  <b className="font-semibold">{services[refusal.service] ?? refusal.service}</b>{' '}
                  <span className="text-soft">{refusal.sentence}</span>
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
    </div>
  )
}

function QuoteTable({ explored, services }: { explored: Explored; services: Names }) {
  const kinds = [...new Set(explored.quotes.flatMap(({ lines }) => lines.map(({ what }) => what)))]
  return (
    <table className="mt-3 w-full bg-sheet">
      <thead>
        <tr className="border-y border-hair text-small text-soft">
          <th className="px-3 py-1.5">Service</th>
          <th>Arrives</th>
          <th className="pr-3 text-right" title="Of the last 90 days, arrived by the foreseen day">
            On time
          </th>
          <th className="pl-2">Zone</th>
          <th className="text-right">Pays for</th>
          {kinds.map((kind) => (
            <th key={kind} className="pl-3 text-right">
              {kind}
            </th>
          ))}
          <th className="pl-4 text-right">{homeSign()}</th>
          <th className="pl-3 pr-3 text-right" title="Without the contract’s discount">
            list
          </th>
        </tr>
      </thead>
      <tbody>
        {explored.quotes.map((quote) => (
          <tr key={quote.service} className="border-b border-hair/70">
            <td className="px-3 py-1.5">
              <b className="font-semibold">{services[quote.service] ?? quote.service}</b>
              {quote.marks.map((mark) => (
                <span
                  key={mark}
                  className={`ml-2 px-1.5 text-small ${mark === 'not beaten' ? 'bg-tint text-soft' : 'bg-done-soft text-done'}`}
                >
                  {mark}
                </span>
              ))}
            </td>
            <td>{shortDay(quote.arrivesOn)}</td>
            <td className="pr-3 text-right">
              {quote.onTime === null ? (
                <span className="text-soft" title="Fewer than 20 shipments are known">
                  –
                </span>
              ) : (
                `${Math.round(quote.onTime / 10)} %`
              )}
            </td>
            <td className="pl-2">{quote.zone}</td>
            <td className="text-right">{weightText(quote.billable)}</td>
            {kinds.map((kind) => (
              <td key={kind} className="pl-3 text-right text-soft">
                {amount(quote.lines.find(({ what }) => what === kind)?.minor ?? null).replace('–', '')}
              </td>
            ))}
            <td className="pl-4 text-right font-semibold">{amount(quote.cost)}</td>
            <td className="pl-3 pr-3 text-right text-soft">{quote.list === quote.cost ? '' : amount(quote.list)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** Costs over the weight: where two lines cross, the better service changes. */
function Curve({ curve, services }: { curve: Explored['curve']; services: Names }) {
  const option = useMemo(
    () => ({
      grid: { left: 56, right: 12, top: 44, bottom: 30 },
      tooltip: {
        trigger: 'axis',
        valueFormatter: (value: unknown) =>
          value === null || value === undefined ? 'no price' : homeMoney(Math.round(Number(value) * 100)),
      },
      xAxis: { data: curve.weights.map(weightText), boundaryGap: false },
      yAxis: {
        type: 'log',
        logBase: 2,
        min: (value: { min: number }) => 2 ** Math.floor(Math.log2(value.min)),
        axisLabel: { formatter: `{value} ${homeSign()}` },
      },
      series: curve.services.map(({ service, costs }) => ({
        type: 'line',
        step: 'end',
        name: services[service] ?? service,
        showSymbol: false,
        connectNulls: false,
        data: costs.map((minor) => (minor === null ? null : minor / 100)),
      })),
    }),
    [curve, services],
  )
  const best = bestByWeight(curve)
  return (
    <section className="mt-4 panes [--panes:1fr_280px] gap-5">
      <div className="border border-hair bg-sheet p-3">
        <h2 className="text-small text-soft">Cost over the weight of one parcel of this size</h2>
        <Chart
          option={option}
          height={250}
          label="Cost of each service over the weight; the cheapest by weight is in the table beside it"
        />
      </div>
      <table className="self-start bg-sheet">
        <thead>
          <tr className="border-y border-hair text-small text-soft">
            <th className="px-3 py-1.5 text-right">Up to</th>
            <th className="pl-3">cheapest is</th>
            <th className="pr-3 text-right">{homeSign()}</th>
          </tr>
        </thead>
        <tbody>
          {best.map((part) => (
            <tr key={part.upTo} className="border-b border-hair/60">
              <td className="px-3 py-1 text-right">{weightText(part.upTo)}</td>
              <td className="pl-3">{services[part.service] ?? part.service}</td>
              <td className="pr-3 text-right">{amount(part.cost)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

/** The cheapest service from one weight to the next; `cost` is the one at the upper end. */
function bestByWeight({ weights, services }: Explored['curve']): { upTo: number; service: string; cost: number }[] {
  const parts: { upTo: number; service: string; cost: number }[] = []
  weights.forEach((weight, i) => {
    const best = services.reduce<{ service: string; cost: number } | null>((found, { service, costs }) => {
      const cost = costs[i]
      return cost === null || cost === undefined || (found && found.cost <= cost) ? found : { service, cost }
    }, null)
    if (!best) return
    const last = parts[parts.length - 1]
    if (last?.service === best.service) parts[parts.length - 1] = { upTo: weight, ...best }
    else parts.push({ upTo: weight, ...best })
  })
  return parts
}

/** What the form asks, or a sentence about what is wrong with it. */
function read(form: Form, on: Readonly<Record<Switch, boolean>>, needs: readonly Offer[]): Exploration | string {
  const weight = typedWeight(form.weight, 'kg')
  const unit = /[a-z]{1,6}$/i.exec(form.size.trim())?.[0] ?? 'cm'
  const sides = form.size.split(/[×x*]/i).map((side) => typedLength(side, unit))
  const insured = form.insured.trim() === '' ? 0 : typedAmount(form.insured, home())
  const parcels = Number(form.parcels)
  if (form.country.trim() === '') return 'Where does it go? Write a country.'
  if (weight === null || weight < 0) return `“${form.weight}” is no weight such as 3 kg.`
  if (sides.length !== 3 || !sides.every((side) => side !== null && side > 0))
    return `“${form.size}” is no size such as 40 × 30 × 20 cm.`
  if (insured === null || insured < 0) return `“${form.insured}” is no amount such as 250.`
  if (!Number.isInteger(parcels) || parcels < 1 || parcels > 99) return 'Parcels: a whole number from 1 to 99.'
  return {
    location: form.location,
    country: form.country,
    postcode: form.postcode,
    parcels,
    weight,
    size: sides as unknown as [number, number, number],
    ...on,
    insured,
    needs,
    dangerousGoods: form.goods
      .split(/[,;]/)
      .map((un) => un.trim())
      .filter(Boolean),
    day: form.day,
    time: '',
  }
}
