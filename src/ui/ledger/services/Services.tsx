'use client'
import { type ChannelDemand, offers, type Service } from '@/core/rating'
import { useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { formatWeight } from '@/core/units'
import type { ServicesView } from '@/usecases/ledger/services'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Field, TextInput } from '../../kit/Field'
import { useChange } from '../../kit/useChange'
import { Rerouting } from '../../rules/Rerouting'
import { LedgerHead } from '../LedgerHead'
import { coverage, formOf, readForm, type ServiceForm } from './serviceForm'

const days = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']

/** What services take, offer and when they collect; a change routes the waiting orders again. */
export function Services({ initial }: { initial: ServicesView }) {
  const { data: view } = useQuery({
    queryKey: ['services'],
    queryFn: () => call('GET /api/ledger/services'),
    initialData: initial,
  })
  const [chosen, setChosen] = useState(initial.services[0]?.id ?? '')
  const [since, setSince] = useState(() => new Date().toISOString())
  const service = view.services.find(({ id }) => id === chosen)
  const change = useChange(['services'])
  const put = async (body: { service: { id: string } } | { demand: ChannelDemand }, said: string): Promise<void> => {
    setSince(new Date().toISOString())
    await change(() => call('PUT /api/ledger/services', { body: { ...body, version: view.version } }), said)
  }
  return (
    <div className="flex h-full flex-col">
      <LedgerHead at="services" about={`${view.services.length} services of ${view.carriers.length} carriers`} />
      <Rerouting since={since} services={Object.fromEntries(view.services.map(({ id, name }) => [id, name]))} />
      <div className="grid min-h-0 flex-1 grid-cols-[330px_1fr] border-t border-hair">
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
                        onClick={() => setChosen(one.id)}
                        className={`flex w-full items-baseline gap-2 border-b border-hair/60 px-4 py-1.5 text-left ${one.id === chosen ? 'bg-act-soft font-semibold' : 'hover:bg-tint'}`}
                      >
                        {one.name}
                        <span className="ml-auto whitespace-nowrap text-small font-normal text-soft">
                          to {formatWeight(one.limits.weight)}, until {one.cutOff}
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
            key={`${service.id} ${view.version}`}
            service={service}
            view={view}
            onSave={(next) => put({ service: next }, `${next.name} is changed; the waiting orders are routed again`)}
          />
        )}
      </div>
    </div>
  )
}

function ServiceEditor({
  service,
  view,
  onSave,
}: {
  service: Service
  view: ServicesView
  onSave: (service: Service) => Promise<void>
}) {
  const before = formOf(service)
  const [form, setForm] = useState<ServiceForm>(before)
  const [wrong, setWrong] = useState('')
  const put = (more: Partial<ServiceForm>): void => {
    setForm({ ...form, ...more })
    setWrong('')
  }
  const changed = JSON.stringify(form) !== JSON.stringify(before)
  const save = (): void => {
    const read = readForm(service, form)
    if (typeof read === 'string') setWrong(read)
    else void onSave(read)
  }
  const text = (
    key:
      | 'name'
      | 'cutOff'
      | 'weight'
      | 'longestSide'
      | 'girth'
      | 'parcels'
      | 'dangerousGoods'
      | 'cash'
      | 'included'
      | 'upTo',
    label: string,
    placeholder = '',
  ) => (
    <Field label={label}>
      <TextInput
        value={form[key]}
        placeholder={placeholder}
        onChange={(event) => put({ [key]: event.target.value })}
        className="w-full"
      />
    </Field>
  )
  const member = <T,>(list: readonly T[], one: T): readonly T[] =>
    list.includes(one) ? list.filter((other) => other !== one) : [...list, one]
  return (
    <form
      className="min-h-0 overflow-auto px-5 py-3"
      tabIndex={0}
      aria-label={`Service ${service.name}`}
      onSubmit={(event) => {
        event.preventDefault()
        save()
      }}
    >
      <div className="flex items-center gap-3 pb-2">
        <h2 className="text-lead">{service.name}</h2>
        {changed && (
          <span className="ml-auto flex gap-2">
            <Button
              kind="quiet"
              onClick={() => {
                setForm(before)
                setWrong('')
              }}
            >
              Put back
            </Button>
            <Button kind="filled" type="submit">
              Save and route again
            </Button>
          </span>
        )}
      </div>
      {wrong && (
        <p role="alert" className="pb-2 text-lost">
          {wrong}
        </p>
      )}
      <Part title="When and from where">
        <div className="grid grid-cols-[2fr_1fr] gap-3">
          {text('name', 'Name')}
          {text('cutOff', 'Cut-off', '16:30')}
        </div>
        <Ticks
          label="Collects in"
          of={view.locations.map(({ id, name }) => [id, name] as const)}
          on={form.locations}
          onToggle={(id) => put({ locations: member(form.locations, id) })}
        />
        <Ticks
          label="Collects on"
          of={days.map((name, i) => [i + 1, name] as const)}
          on={form.collects}
          onToggle={(day) => put({ collects: member(form.collects, day) })}
        />
        <Ticks
          label="Delivers on"
          of={days.map((name, i) => [i + 1, name] as const)}
          on={form.delivers}
          onToggle={(day) => put({ delivers: member(form.delivers, day) })}
        />
        {service.collections?.map((own) => (
          <p key={own.location} className="text-small text-soft">
            In {view.locations.find(({ id }) => id === own.location)?.name ?? own.location} until {own.cutOff}.
          </p>
        ))}
      </Part>
      <Part title="Takes">
        <div className="grid grid-cols-4 gap-3">
          {text('weight', 'Weight of a parcel')}
          {text('longestSide', 'Longest side')}
          {text('girth', 'Length plus girth')}
          {text('parcels', 'Parcels in a shipment', 'any number')}
        </div>
        <div className="mt-2 grid grid-cols-2 gap-3">
          {text('dangerousGoods', 'Dangerous goods', 'none')}
          {text('cash', 'Collects on delivery at most, €', 'no limit')}
        </div>
        <p className="flex gap-5">
          <Tick
            label="delivers to post-office boxes"
            on={form.postOfficeBox}
            onChange={(postOfficeBox) => put({ postOfficeBox })}
          />
          <Tick
            label="stays within the country"
            on={form.domesticOnly}
            onChange={(domesticOnly) => put({ domesticOnly })}
          />
        </p>
      </Part>
      <Part title="Offers">
        <Ticks
          label=""
          of={offers.map((offer) => [offer, offer] as const)}
          on={form.offers}
          onToggle={(offer) => put({ offers: member(form.offers, offer) })}
        />
        <div className="grid w-80 grid-cols-2 gap-3">
          {text('included', 'Cover included, €')}
          {text('upTo', 'Cover at most, €')}
        </div>
        <Ticks
          label="Claims for late delivery are borne by"
          of={view.channels.map(({ id, name }) => [id, name] as const)}
          on={form.claimsBorneBy}
          onToggle={(id) => put({ claimsBorneBy: member(form.claimsBorneBy, id) })}
        />
      </Part>
      <Part title="Goes to">
        <ul className="text-small">
          {coverage(service).map((line) => (
            <li key={line} className="py-0.5">
              {line}
            </li>
          ))}
        </ul>
      </Part>
    </form>
  )
}

const Part = ({ title, children }: { title: string; children: ReactNode }) => (
  <section className="border-t border-hair py-2.5">
    <h3 className="pb-1.5 text-small text-soft">{title}</h3>
    {children}
  </section>
)

function Ticks<T extends string | number>({
  label,
  of,
  on,
  onToggle,
}: {
  label: string
  of: readonly (readonly [T, string])[]
  on: readonly T[]
  onToggle: (one: T) => void
}) {
  return (
    <fieldset className="mt-1 flex flex-wrap items-center gap-x-4">
      {label && <legend className="float-left mr-3 text-small text-soft">{label}</legend>}
      {of.map(([id, name]) => (
        <Tick key={String(id)} label={name} on={on.includes(id)} onChange={() => onToggle(id)} />
      ))}
    </fieldset>
  )
}

const Tick = ({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) => (
  <label className="flex min-h-[24px] items-center gap-1.5">
    <input
      type="checkbox"
      checked={on}
      onChange={(event) => onChange(event.target.checked)}
      className="size-4 accent-[var(--act)]"
    />
    {label}
  </label>
)
