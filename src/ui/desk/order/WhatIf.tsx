'use client'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import type { Order } from '@/core/order'
import { itemsWeight, parcelsPhrase } from '@/core/packing'
import { changedOrder, differingIn, type OrderChange, whyNotService } from '@/core/rulebook/change'
import { compileRulebook } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import { decisionById, decisionPhrase, type Routed } from '@/core/rulebook/language'
import { readyWorld } from '@/core/world'
import { plainAmount } from '@/core/units'
import { asTyped, typedAmount, typedWeight } from '../../kit/read'
import { notation } from '../../kit/locale'
import { call } from '../../kit/api'
import { Field, Select, TextInput } from '../../kit/Field'
import { homeMoney, shortDay, weightText, inUnits } from '../../kit/format'

const empty = { weight: '', value: '', country: '', postcode: '', wording: '', promisedBy: '' }

/**
 * Changes facts of an order without saving anything, and shows how the decision moves; decided here, in the browser.
 */
export function WhatIf({ id, order }: { id: number; order: Order }) {
  const { data } = useQuery({
    queryKey: ['deciding', id],
    queryFn: () => call('GET /api/desk/orders/:id/deciding', { path: { id: String(id) } }),
    staleTime: 60_000,
  })
  const [form, setForm] = useState(empty)
  const [service, setService] = useState('')
  const [now] = useState(() => Date.now())
  const engine = useMemo(
    () => data && { program: compileRulebook(data.rulebook, data.world.rates), ready: readyWorld(data.world) },
    [data],
  )
  if (!data || !engine) return <p className="text-soft">Fetching the rulebook …</p>
  const { change, wrong } = readForm(form, order)
  const before = route(order, engine.program, engine.ready, { now, pins: data.pins })
  const after = route(changedOrder(order, change), engine.program, engine.ready, { now, pins: data.pins })
  const words = {
    world: data.world,
    groups: data.rulebook.groups,
    conditions: data.rulebook.conditions ?? [],
    notation: notation(),
  }
  const name = (wanted: string | undefined): string =>
    data.world.services.find((candidate) => candidate.id === wanted)?.name ?? 'none'
  const ruleName = (rule: string): string =>
    data.rulebook.rules.find((candidate) => candidate.id === rule)?.name ?? rule
  const field = (key: keyof typeof form, label: string, placeholder: string) => (
    <Field label={label}>
      <TextInput
        value={form[key]}
        placeholder={placeholder}
        onChange={(event) => setForm({ ...form, [key]: event.target.value })}
        className="w-full"
      />
    </Field>
  )
  const packed = (routed: Routed): string =>
    inUnits(
      parcelsPhrase(routed.parcels, (preset) => data.world.presets.find(({ id }) => id === preset)?.name ?? preset),
    )
  const rows: [string, string, string][] = [
    ...differingIn(before.decisions, after.decisions).map((decision): [string, string, string] => [
      decisionById.get(decision)!.name,
      decisionPhrase(decision, before.decisions[decision], words),
      decisionPhrase(decision, after.decisions[decision], words),
    ]),
    ['chosen', name(before.quote?.service), name(after.quote?.service)],
    ['cost', homeMoney(before.quote?.cost), homeMoney(after.quote?.cost)],
    ['arrives', shortDay(before.quote?.arrivesOn), shortDay(after.quote?.arrivesOn)],
    ['parcels', packed(before), packed(after)],
    [
      'problems',
      String(before.problems.length),
      inUnits(after.problems.map((problem) => problem.sentence).join(' ')) || '0',
    ],
  ]
  const moved = rows.filter(([, a, b]) => a !== b)
  return (
    <div>
      <div className="grid grid-cols-3 gap-2">
        {field('weight', 'Weight of the items', weightText(itemsWeight(order.items)))}
        {field('value', `Value in ${order.value.currency}`, asTyped(plainAmount(order.value)))}
        {field('country', 'Country', order.shipTo.country)}
        {field('postcode', 'Postcode', order.shipTo.postcode)}
        {field('wording', 'Checkout wording', order.wording)}
        {field('promisedBy', 'Promised by', order.promisedBy)}
      </div>
      {wrong && (
        <p role="alert" className="mt-1 text-lost">
          {wrong}
        </p>
      )}
      <p role="status" className="mt-2 font-semibold">
        {Object.keys(change).length === 0
          ? 'Change a fact to see the decision move. Nothing is saved.'
          : outcomeTitle(moved.length)}
      </p>
      {moved.length > 0 && (
        <table className="w-full">
          <tbody>
            {moved.map(([what, a, b]) => (
              <tr key={what} className="border-b border-hair/60 align-top">
                <td className="w-28 py-0.5 text-soft">{what}</td>
                <td className="py-0.5 pr-2 text-soft line-through">{a}</td>
                <td className="py-0.5 font-semibold">{b}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <label className="mt-2 flex items-center gap-2 text-soft">
        Why not{' '}
        <Select value={service} onChange={(event) => setService(event.target.value)}>
          <option value="">a service …</option>
          {data.world.services
            .filter((candidate) => candidate.id !== after.quote?.service)
            .map((candidate) => (
              <option key={candidate.id} value={candidate.id}>
                {candidate.name}
              </option>
            ))}
        </Select>
      </label>
      {service && (
        <ul aria-label="Reasons">
          {whyNotService(after, service, ruleName, data.world.rates.home).map((sentence) => (
            <li key={sentence} className="mt-1">
              {inUnits(sentence)}
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}

/** What cannot be used of what was typed, and how it is written; empty when all can. */
function wrongIn(
  weight: number | null | undefined,
  value: number | null | undefined,
  country: string,
  promisedBy: string,
): string {
  if (weight === null || (weight !== undefined && weight < 0)) return 'Enter a weight such as 250 g or 1.2 kg.'
  if (value === null) return 'Enter an amount such as 12.50.'
  if (country !== '' && !/^[A-Z]{2}$/.test(country)) return 'Enter the country as a code of two letters.'
  if (promisedBy !== '' && Number.isNaN(Date.parse(promisedBy))) return 'Enter the promised day as YYYY-MM-DD.'
  return ''
}

function readForm(form: typeof empty, order: Order): { change: OrderChange; wrong: string } {
  const weight = form.weight.trim() === '' ? undefined : typedWeight(form.weight)
  const value = form.value.trim() === '' ? undefined : typedAmount(form.value, order.value.currency)
  const country = form.country.trim().toUpperCase()
  const promisedBy = form.promisedBy.trim()
  const wrong = wrongIn(weight, value, country, promisedBy)
  if (wrong) return { change: {}, wrong }
  return {
    wrong,
    change: {
      ...(weight === undefined || weight === null ? {} : { weight }),
      ...(value === undefined || value === null ? {} : { value }),
      ...(country === '' ? {} : { country }),
      ...(form.postcode.trim() === '' ? {} : { postcode: form.postcode.trim().toUpperCase() }),
      ...(form.wording.trim() === '' ? {} : { wording: form.wording.trim() }),
      ...(promisedBy === '' ? {} : { promisedBy }),
    },
  }
}

const outcomeTitle = (moved: number): string =>
  moved === 0 ? 'The decision stays as it is.' : 'The decision would be:'
