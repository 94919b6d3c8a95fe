'use client'
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react'
import { useQuery } from '@tanstack/react-query'
import Link from 'next/link'
import { parcelsPhrase } from '@/core/packing'
import {
  decisionKinds,
  deciderPhrase,
  decisionPhrase,
  type Routed,
  type Rulebook,
  type TrailEntry,
  type Wordings,
} from '@/core/rulebook/language'
import type { World } from '@/core/world'
import type { Compared } from '@/usecases/rules/runTrial'
import { call } from '../../kit/api'
import { notation } from '../../kit/locale'
import { Button } from '../../kit/Button'
import { homeMoney, shortDay, inUnits } from '../../kit/format'

interface Side {
  readonly value: string
  readonly by: string
}

/** One order as both rulebooks decide it, decision by decision. */
export function TwoTrails({
  order,
  trial,
  services,
  onClose,
}: {
  order: number
  trial: number | null
  services: Readonly<Record<string, string>>
  onClose: () => void
}) {
  const { data } = useQuery({
    queryKey: ['two trails', order, trial],
    queryFn: () => call('GET /api/rules/trials/compare', { query: trial === null ? { order } : { order, trial } }),
  })
  return (
    <Dialog open onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 bg-ink/30" aria-hidden />
      <div className="fixed inset-0 grid place-items-center p-6">
        <DialogPanel className="flex max-h-full w-[62rem] max-w-full flex-col bg-sheet shadow-xl">
          <header className="flex items-baseline gap-3 border-b border-hair px-5 py-3">
            <DialogTitle className="text-lead">
              {data ? (
                <>
                  Order <span className="font-mono">{data.number}</span>, both trails
                </>
              ) : (
                'Both trails'
              )}
            </DialogTitle>
            {data && (
              <Link
                className="text-act underline underline-offset-4"
                href={`/desk?order=${order}&q=${encodeURIComponent(data.number)}`}
              >
                Open on the Desk
              </Link>
            )}
            <span className="ml-auto">
              <Button kind="quiet" onClick={onClose}>
                Close
              </Button>
            </span>
          </header>
          <div className="overflow-auto px-5 py-3" tabIndex={0} role="region" aria-label="Trails">
            {data ? <Table compared={data} services={services} /> : <p className="text-soft">Deciding …</p>}
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  )
}

function Table({
  compared: { before, after, rulebooks, world },
  services,
}: {
  compared: Compared
  services: Readonly<Record<string, string>>
}) {
  const chosen = ({ quote }: Routed): Side => ({
    value: quote
      ? `${services[quote.service] ?? quote.service}, ${homeMoney(quote.cost)}, arrives ${shortDay(quote.arrivesOn)}`
      : 'none',
    by: '',
  })
  const problems = ({ problems: list }: Routed): Side => ({
    value: inUnits(list.map((problem) => problem.sentence).join(' ')) || 'none',
    by: '',
  })
  const parcel = ({ parcels }: Routed): Side => ({
    value: inUnits(parcelsPhrase(parcels, (preset) => world.presets.find(({ id }) => id === preset)?.name ?? preset)),
    by: '',
  })
  const rows: [string, Side, Side][] = [
    ...decisionKinds.flatMap(({ id, name }): [string, Side, Side][] => {
      const [a, b] = [entryOf(before, id), entryOf(after, id)]
      return a || b ? [[name, sideOf(a, rulebooks.before, world), sideOf(b, rulebooks.after, world)]] : []
    }),
    ['parcel', parcel(before), parcel(after)],
    ['label', chosen(before), chosen(after)],
    ['problems', problems(before), problems(after)],
  ]
  return (
    <table className="w-full table-fixed">
      <thead>
        <tr className="border-b border-hair text-small text-soft">
          <th className="w-36 py-1">Decision</th>
          <th>Edition in force</th>
          <th>Draft</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([name, a, b]) => {
          const differs = a.value !== b.value || a.by !== b.by
          return (
            <tr key={name} className={`border-b border-hair/60 align-top ${differs ? 'bg-wait-soft' : ''}`}>
              <th scope="row" className="py-1 font-normal text-soft">
                {differs ? '△ ' : ''}
                {name}
              </th>
              {[a, b].map((side, i) => (
                <td key={i} className="py-1 pr-3">
                  {side.value}
                  {side.by && <span className="block text-small text-soft">{side.by}</span>}
                </td>
              ))}
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}

const entryOf = (routed: Routed, id: string): TrailEntry | undefined =>
  routed.trail.decisions.find((entry) => entry.decision === id)

function sideOf(entry: TrailEntry | undefined, rulebook: Rulebook, world: World): Side {
  if (!entry) return { value: '–', by: 'no rule says anything' }
  const words: Wordings = {
    world,
    groups: rulebook.groups,
    conditions: rulebook.conditions ?? [],
    notation: notation(),
  }
  const name = (id: string): string => `“${rulebook.rules.find((rule) => rule.id === id)?.name ?? id}”`
  const from = deciderPhrase(entry.by, name, entry.parts.map((part) => name(part.rule)).join(', '))
  const lost = entry.others.map((other) => name(other.rule)).join(', ')
  return { value: decisionPhrase(entry.decision, entry.value, words), by: lost ? `${from}; before ${lost}` : from }
}
