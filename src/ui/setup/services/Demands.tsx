'use client'
import type { ChannelDemand } from '@/core/rating'
import type { SetupView } from '@/usecases/setup/showSetup'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Tick } from '../../kit/Tick'
import { useChange } from '../../kit/useChange'

type Channel = SetupView['channels'][number]

/** What channels demand of every service. */
export function Demands({ view }: { view: SetupView }) {
  if (view.channels.length === 0) return null
  return (
    <section className="px-4 py-3">
      <h2 className="text-small text-soft">What channels demand, whatever the rules say</h2>
      {view.channels.map((channel) => (
        <DemandsOf key={channel.id} channel={channel} view={view} />
      ))}
    </section>
  )
}

function DemandsOf({ channel, view }: { channel: Channel; view: SetupView }) {
  const change = useChange(['setup'])
  const demand = view.demands.find((one) => one.channel === channel.id)
  const { offers = [], byPromise = false, protected: bears = false, carriers = [] } = demand ?? {}
  const put = (more: Partial<ChannelDemand>): Promise<boolean> =>
    change(
      () =>
        call('PUT /api/setup/demands', {
          body: { demand: { channel: channel.id, offers, byPromise, protected: bears, carriers, ...more } },
        }),
      `What ${channel.name} demands is changed`,
    )
  const inUse = view.carriers.filter(({ retired }) => !retired)
  const carriersWith = (id: string, on: boolean): string[] =>
    inUse.map((one) => one.id).filter((one) => (one === id ? on : carriers.includes(one)))
  return (
    <div className="border-b border-hair/60 py-1.5">
      <b className="font-semibold">{channel.name}</b>
      <Tick
        label="a tracked service"
        on={offers.includes('tracking')}
        onChange={(on) =>
          void put({ offers: on ? [...offers, 'tracking'] : offers.filter((offer) => offer !== 'tracking') })
        }
      />
      <Tick label="arrival by its promised day" on={byPromise} onChange={(on) => void put({ byPromise: on })} />
      <Tick label="one for which it bears claims" on={bears} onChange={(on) => void put({ protected: on })} />
      <fieldset className="mt-1">
        <legend className="text-small text-soft">
          a carrier that it knows{carriers.length === 0 && ' (any, while none is ticked)'}
        </legend>
        <div className="grid grid-cols-2">
          {inUse.map(({ id, name }) => (
            <Tick
              key={id}
              label={name}
              name={`${channel.name} knows ${name}`}
              on={carriers.includes(id)}
              onChange={(on) => void put({ carriers: carriersWith(id, on) })}
            />
          ))}
        </div>
        <OfItsCodes
          channel={channel}
          carriers={inUse}
          ticked={inUse.map(({ id }) => id).filter((id) => carriers.includes(id))}
          onTake={(known) => put({ carriers: known })}
        />
      </fieldset>
    </div>
  )
}

/** Its connection has codes of other carriers than those that are ticked: they can be taken. */
function OfItsCodes({
  channel: { name, codes },
  carriers,
  ticked,
  onTake,
}: {
  channel: Channel
  carriers: SetupView['carriers']
  ticked: readonly string[]
  onTake: (known: string[]) => Promise<boolean>
}) {
  if (codes === null) return null
  const known = carriers.filter(({ id }) => codes.includes(id))
  const asTicked = known.length === ticked.length && known.every(({ id }) => ticked.includes(id))
  if (known.length === 0 || asTicked) return null
  return (
    <p className="flex items-center gap-2 pt-1 text-small text-wait">
      <span>
        Its connection has codes of {known.map((carrier) => carrier.name).join(', ')}: parcels of others cannot be told.
      </span>
      <Button
        calls="PUT /api/setup/demands"
        aria-label={`Tick those that ${name} knows`}
        onClick={() => onTake(known.map(({ id }) => id))}
      >
        Tick those
      </Button>
    </p>
  )
}
