'use client'
import Link from 'next/link'
import { useState } from 'react'
import type { OwnServices } from '@/usecases/setup/carriersOwn'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { count } from '../../kit/format'
import { Tick } from '../../kit/Tick'
import { useChange } from '../../kit/useChange'

/** The services that the carrier itself says an account may use; those that are ticked are taken with their prices. */
export function CarriersOwn({ carrier }: { carrier: string }) {
  const [offered, setOffered] = useState<OwnServices['services'] | null>(null)
  const [wanted, setWanted] = useState<readonly string[]>([])
  const change = useChange(['setup'])
  const path = { id: carrier }
  const ask = (): Promise<boolean> =>
    change(
      () => call('POST /api/setup/carriers/:id', { path, body: {} }),
      ({ services }) => {
        setOffered(services)
        setWanted(services.filter(({ known }) => !known).map(({ id }) => id))
      },
    )
  const take = (): Promise<boolean> =>
    change(
      () => call('PUT /api/setup/carriers/:id', { path, body: { services: wanted } }),
      () => setOffered(null),
    )
  if (!offered)
    return (
      <Button kind="quiet" onClick={ask}>
        Ask the carrier what it offers
      </Button>
    )
  return (
    <div className="basis-full border border-hair p-3" role="group" aria-label="What the carrier offers">
      {offered.length === 0 && <p className="text-soft">It offers nothing from where your locations are.</p>}
      {offered.map(({ id, name, to, priced, noRate, known }) => (
        <div key={id} className="flex items-baseline gap-3">
          {known ? (
            <span className="pl-5.5">{name}</span>
          ) : (
            <Tick
              label={name}
              on={wanted.includes(id)}
              onChange={(on) => setWanted(on ? [...wanted, id] : wanted.filter((each) => each !== id))}
            />
          )}
          <span className="text-small text-soft">
            {known
              ? 'is set up'
              : `to ${count(to)} ${to === 1 ? 'country' : 'countries'}${priced ? '' : ', without prices'}`}
          </span>
          {noRate && (
            <Link className="text-wait underline underline-offset-4" href="/setup/seller">
              △ its prices are in {noRate}: say what one is worth first
            </Link>
          )}
        </div>
      ))}
      <p className="mt-2 flex gap-2">
        {wanted.length > 0 && (
          <Button onClick={take}>
            Take {count(wanted.length)} {wanted.length === 1 ? 'service' : 'services'} with prices
          </Button>
        )}
        <Button kind="quiet" onClick={() => setOffered(null)}>
          Close
        </Button>
      </p>
    </div>
  )
}
