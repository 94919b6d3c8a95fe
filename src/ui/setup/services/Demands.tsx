'use client'
import type { ChannelDemand } from '@/core/rating'
import type { SetupView } from '@/usecases/setup/showSetup'
import { call } from '../../kit/api'
import { Tick } from '../../kit/Tick'
import { useChange } from '../../kit/useChange'

/** What channels demand of every service. */
export function Demands({ view }: { view: SetupView }) {
  const change = useChange(['setup'])
  if (view.channels.length === 0) return null
  const carriers = view.carriers.filter(({ retired }) => !retired)
  return (
    <section className="px-4 py-3">
      <h2 className="text-small text-soft">What channels demand, whatever the rules say</h2>
      {view.channels.map((channel) => {
        const demand = view.demands.find((one) => one.channel === channel.id)
        const put = (more: Partial<ChannelDemand>): void =>
          void change(
            () =>
              call('PUT /api/setup/demands', {
                body: {
                  demand: {
                    channel: channel.id,
                    offers: demand?.offers ?? [],
                    byPromise: demand?.byPromise ?? false,
                    protected: demand?.protected ?? false,
                    carriers: demand?.carriers ?? [],
                    ...more,
                  },
                },
              }),
            `What ${channel.name} demands is changed`,
          )
        const carriersWith = (id: string, on: boolean): string[] =>
          carriers.map((one) => one.id).filter((one) => (one === id ? on : demand?.carriers?.includes(one)))
        return (
          <div key={channel.id} className="border-b border-hair/60 py-1.5">
            <b className="font-semibold">{channel.name}</b>
            <Tick
              label="a tracked service"
              on={demand?.offers?.includes('tracking') ?? false}
              onChange={(on) =>
                put({
                  offers: on
                    ? [...(demand?.offers ?? []), 'tracking']
                    : (demand?.offers ?? []).filter((offer) => offer !== 'tracking'),
                })
              }
            />
            <Tick
              label="arrival by its promised day"
              on={demand?.byPromise ?? false}
              onChange={(on) => put({ byPromise: on })}
            />
            <Tick
              label="one for which it bears claims"
              on={demand?.protected ?? false}
              onChange={(on) => put({ protected: on })}
            />
            <fieldset className="mt-1">
              <legend className="text-small text-soft">
                a carrier that it knows{(demand?.carriers ?? []).length === 0 && ' (any, while none is ticked)'}
              </legend>
              <div className="grid grid-cols-2">
                {carriers.map(({ id, name }) => (
                  <Tick
                    key={id}
                    label={name}
                    name={`${channel.name} knows ${name}`}
                    on={demand?.carriers?.includes(id) ?? false}
                    onChange={(on) => put({ carriers: carriersWith(id, on) })}
                  />
                ))}
              </div>
            </fieldset>
          </div>
        )
      })}
    </section>
  )
}
