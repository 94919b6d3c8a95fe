'use client'
import { weightText } from '../../kit/format'
import { useQuery } from '@tanstack/react-query'
import { parseAsString, useQueryState } from 'nuqs'
import { useState } from 'react'
import type { ChannelDemand } from '@/core/rating'
import type { ServicesView } from '@/usecases/ledger/services'
import { call } from '../../kit/api'
import { useEdits } from '../../kit/useEdit'
import { useChange } from '../../kit/useChange'
import { Rerouting } from '../../rules/Rerouting'
import { LedgerHead } from '../LedgerHead'
import { ServiceEditor } from './ServiceEditor'
import { Tick } from './Tick'

/** What services take, offer and when they collect; a change routes the waiting orders again. */
export function Services({ initial }: { initial: ServicesView }) {
  const { data: view } = useQuery({
    queryKey: ['services'],
    queryFn: () => call('GET /api/ledger/services'),
    initialData: initial,
  })
  const [asked, setChosen] = useQueryState('service', parseAsString.withOptions({ history: 'push' }))
  const edits = useEdits('service ')
  const [since, setSince] = useState(() => new Date().toISOString())
  const service = view.services.find(({ id }) => id === asked) ?? view.services[0]
  const chosen = service?.id
  const change = useChange(['services'])
  const put = async (body: { service: { id: string } } | { demand: ChannelDemand }, said: string): Promise<boolean> => {
    setSince(new Date().toISOString())
    return change(() => call('PUT /api/ledger/services', { body: { ...body, version: view.version } }), said)
  }
  return (
    <div className="flex h-full flex-col">
      <LedgerHead at="services" about={`${view.services.length} services of ${view.carriers.length} carriers`} />
      <Rerouting since={since} services={Object.fromEntries(view.services.map(({ id, name }) => [id, name]))} />
      <div className="panes min-h-0 flex-1 [--panes:330px_1fr] border-t border-hair">
        <div
          className="min-h-0 overflow-auto border-r border-hair bg-sheet"
          tabIndex={0}
          role="region"
          aria-label="Services"
        >
          {view.carriers.map((carrier) => (
            <section key={carrier.id}>
              <h2 className="px-4 pt-2 pb-1 text-small text-soft">{carrier.name}</h2>
              <ul>
                {view.services
                  .filter((one) => one.carrier === carrier.id)
                  .map((one) => (
                    <li key={one.id}>
                      <button
                        aria-current={one.id === chosen || undefined}
                        onClick={() => void setChosen(one.id)}
                        className={`flex w-full items-baseline gap-2 border-b border-hair/60 px-4 py-1.5 text-left ${one.id === chosen ? 'bg-act-soft font-semibold' : 'hover:bg-tint'}`}
                      >
                        {one.name}
                        {edits.has(one.id) && <b className="text-small text-wait">not saved</b>}
                        <span className="ml-auto whitespace-nowrap text-small font-normal text-soft">
                          to {weightText(one.limits.weight)}, until {one.cutOff}
                        </span>
                      </button>
                    </li>
                  ))}
              </ul>
            </section>
          ))}
          <section className="px-4 py-3">
            <h2 className="text-small text-soft">What channels demand, whatever the rules say</h2>
            {view.channels.map((channel) => {
              const demand = view.demands.find((one) => one.channel === channel.id)
              const toggle = (more: Partial<ChannelDemand>): void =>
                void put(
                  {
                    demand: {
                      channel: channel.id,
                      offers: demand?.offers ?? [],
                      byPromise: demand?.byPromise ?? false,
                      ...more,
                    },
                  },
                  `What ${channel.name} demands is changed`,
                )
              return (
                <div key={channel.id} className="border-b border-hair/60 py-1.5">
                  <b className="font-semibold">{channel.name}</b>
                  <Tick
                    label="a tracked service"
                    on={demand?.offers?.includes('tracking') ?? false}
                    onChange={(on) =>
                      toggle({
                        offers: on
                          ? [...(demand?.offers ?? []), 'tracking']
                          : (demand?.offers ?? []).filter((offer) => offer !== 'tracking'),
                      })
                    }
                  />
                  <Tick
                    label="arrival by its promised day"
                    on={demand?.byPromise ?? false}
                    onChange={(on) => toggle({ byPromise: on })}
                  />
                </div>
              )
            })}
          </section>
        </div>
        {service && (
          <ServiceEditor
            key={service.id}
            service={service}
            view={view}
            onSave={(next) => put({ service: next }, `${next.name} is changed; the waiting orders are routed again`)}
          />
        )}
      </div>
    </div>
  )
}
