'use client'
import { weightText } from '../../kit/format'
import { useQuery } from '@tanstack/react-query'
import { parseAsString, useQueryState } from 'nuqs'
import { useState } from 'react'
import type { TariffPreview, TariffsView } from '@/usecases/ledger/tariffs'
import { call, sendFile } from '../../kit/api'
import { Confirm } from '../../kit/Confirm'
import { FileDrop } from '../../kit/FileDrop'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'
import { Rerouting } from '../../rules/Rerouting'
import { LedgerHead } from '../LedgerHead'
import { PreviewPanel } from './PreviewPanel'
import { RateCard } from './RateCard'
import { aStep } from '../../kit/step'

type Row = TariffsView['tariffs'][number]

/** The tariffs of all services: what holds when, what is doubtful about it, and new ones from a file. */
export function Tariffs({ initial }: { initial: TariffsView }) {
  const say = useSay()
  const { data: view } = useQuery({
    queryKey: ['tariffs'],
    queryFn: () => call('GET /api/ledger/tariffs'),
    initialData: initial,
  })
  const [looked, setLooked] = useState<{ file: File; preview: TariffPreview } | null>(null)
  const [chosen, setChosen] = useQueryState('tariff', parseAsString.withDefault('').withOptions(aStep))
  const card = view.tariffs.find(({ service, from }) => `${service} ${from}` === chosen) ?? view.tariffs[0]
  const [leaving, setLeaving] = useState<Row | null>(null)
  const [since, setSince] = useState(() => new Date().toISOString())
  const services = Object.fromEntries(view.services.map(({ id, name }) => [id, name]))
  const today = new Date().toISOString().slice(0, 10)

  const change = useChange(['tariffs'])
  const look = (file: File): Promise<boolean> =>
    change(
      () => sendFile('POST /api/ledger/tariffs/file', { file }),
      (preview) => setLooked({ file, preview }),
    )
  const settle = (work: () => Promise<unknown>, said: string): Promise<boolean> => {
    setSince(new Date().toISOString())
    return change(work, () => {
      setLooked(null)
      say(said)
    })
  }
  if (looked)
    return (
      <PreviewPanel
        {...looked}
        services={services}
        onCancel={() => setLooked(null)}
        onTake={() =>
          settle(
            () =>
              sendFile('PUT /api/ledger/tariffs/file', {
                query: { version: looked.preview.version },
                file: looked.file,
              }),
            'The tariffs are taken; the waiting orders are routed again',
          )
        }
      />
    )
  return (
    <div className="flex h-full flex-col">
      <LedgerHead at="tariffs" about={`${view.tariffs.length} tariffs of ${view.services.length} services`} />
      <Rerouting since={since} services={services} />
      <div className="min-h-0 flex-1 overflow-auto px-5 pb-8" tabIndex={0} role="region" aria-label="Tariffs">
        <FileDrop id="tariff-file" label="Choose a file of tariffs" accept=".csv,.xlsx" onFile={look}>
          or drop it here. You see what it would change, row by row and for last month’s orders, before it counts.
          Pattern and backup: all as{' '}
          <a className="text-act underline" href="/api/ledger/tariffs/file?format=xlsx">
            spreadsheet
          </a>{' '}
          or{' '}
          <a className="text-act underline" href="/api/ledger/tariffs/file?format=csv">
            CSV
          </a>
          .
        </FileDrop>
        {view.tariffs.length === 0 && (
          <p className="py-6 text-soft">There is no tariff yet, so no service can be offered. Import a file.</p>
        )}
        <table className="mt-4 w-full bg-sheet">
          <thead>
            <tr className="border-y border-hair text-small text-soft">
              <th className="px-3 py-1.5">Service</th>
              <th>Holds from</th>
              <th>until</th>
              <th>Priced</th>
              <th className="pl-3 text-right">Zones</th>
              <th className="pl-3 text-right">Prices</th>
              <th className="pl-4 text-right" title="Cubic centimetres per kilogram">
                Divisor
              </th>
              <th className="whitespace-nowrap pl-3 text-right">Off list</th>
              <th className="pl-4">Surcharges</th>
              <td className="pr-3" />
            </tr>
          </thead>
          <tbody>
            {view.tariffs.map((tariff, i) => {
              const own = view.findings.filter(
                (finding) => finding.service === tariff.service && finding.from === tariff.from,
              )
              const holds = tariff.from <= today && (tariff.until === null || tariff.until >= today)
              return (
                <tr
                  key={`${tariff.service} ${tariff.from}`}
                  className={`border-b border-hair/70 align-top ${holds ? '' : 'text-soft'} ${tariff === card ? 'bg-act-soft' : ''}`}
                >
                  <td className="whitespace-nowrap px-3 py-1.5 font-semibold">
                    <button
                      aria-label={`Prices of ${services[tariff.service] ?? tariff.service} from ${tariff.from}`}
                      aria-pressed={tariff === card}
                      className="text-act hover:underline"
                      onClick={() => void setChosen(`${tariff.service} ${tariff.from}`)}
                    >
                      {view.tariffs[i - 1]?.service === tariff.service
                        ? 'earlier'
                        : (services[tariff.service] ?? tariff.service)}
                    </button>
                  </td>
                  <td className="whitespace-nowrap py-1.5 pr-3">{tariff.from}</td>
                  <td className="whitespace-nowrap py-1.5 pr-3">{tariff.until ?? (holds ? 'further notice' : '–')}</td>
                  <td className="whitespace-nowrap py-1.5">
                    {tariff.currency}, each {tariff.basis}
                    {tariff.roundUpTo > 1 && `, by ${weightText(tariff.roundUpTo)}`}
                  </td>
                  <td className="py-1.5 text-right">{tariff.zones}</td>
                  <td className="py-1.5 text-right">{tariff.bands}</td>
                  <td className="py-1.5 pl-4 text-right">{tariff.dimensionalDivisor ?? '–'}</td>
                  <td className="py-1.5 text-right">
                    {tariff.discountPermille === 0 ? '–' : `${tariff.discountPermille / 10} %`}
                  </td>
                  <td className="py-1.5 pl-4 text-small">
                    {tariff.surcharges.join(', ') || 'none'}
                    {own.map((finding) => (
                      <span
                        key={finding.sentence}
                        className={`mt-0.5 block ${finding.severity === 'error' ? 'text-lost' : 'text-wait'}`}
                      >
                        △ {finding.sentence}
                      </span>
                    ))}
                  </td>
                  <td className="whitespace-nowrap py-1 pr-3 text-right text-small">
                    <a
                      aria-label={`Export ${services[tariff.service] ?? tariff.service} as a spreadsheet`}
                      className="inline-block min-h-[24px] px-1 text-act hover:underline"
                      href={`/api/ledger/tariffs/file?format=xlsx&service=${encodeURIComponent(tariff.service)}`}
                    >
                      export
                    </a>
                    <button
                      aria-label={`Delete the tariff of ${services[tariff.service] ?? tariff.service} from ${tariff.from}`}
                      className="size-[24px] text-soft hover:text-lost"
                      onClick={() => setLeaving(tariff)}
                    >
                      ×
                    </button>
                  </td>
                </tr>
              )
            })}
          </tbody>
        </table>
        {card && <RateCard service={card.service} from={card.from} name={services[card.service] ?? card.service} />}
        {view.findings
          .filter((finding) => finding.from === '')
          .map((finding) => (
            <p key={finding.sentence} className="mt-2 text-wait">
              △ {finding.sentence}
            </p>
          ))}
      </div>
      <Confirm
        open={leaving !== null}
        danger
        title={`Delete the tariff of ${services[leaving?.service ?? ''] ?? ''} from ${leaving?.from ?? ''}?`}
        action="Delete it"
        onClose={() => setLeaving(null)}
        onConfirm={async () => {
          if (leaving)
            await settle(
              () =>
                call('DELETE /api/ledger/tariffs', {
                  body: { service: leaving.service, from: leaving.from, version: view.version },
                }),
              'The tariff is deleted; the waiting orders are routed again',
            )
          setLeaving(null)
        }}
      >
        Its days are then priced by no tariff, unless another one covers them, and waiting orders are routed again.
        Export it first if you may want it back.
      </Confirm>
    </div>
  )
}
