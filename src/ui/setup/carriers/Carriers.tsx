'use client'
import Link from 'next/link'
import type { UseFormReturn } from 'react-hook-form'
import { z } from 'zod'
import type { Carrier } from '@/core/rating'
import type { SetupView } from '@/usecases/setup/showSetup'
import { Field, TextInput } from '../../kit/Field'
import { count } from '../../kit/format'
import { ListScreen, Part } from '../ListScreen'
import type { ThingKind } from '../useThing'
import { useSetup } from '../useSetup'
import { CarriersOwn } from './CarriersOwn'

const carrierForm = z.object({
  name: z.string().trim().min(1, 'Give it a name.').max(60, 'At most 60 characters.'),
})
type CarrierForm = z.input<typeof carrierForm>

const kind: ThingKind<Carrier, CarrierForm, z.output<typeof carrierForm>> = {
  list: 'carriers',
  one: 'carrier',
  keyOf: ({ id }) => id,
  nameOf: ({ name }) => name,
  blank: { id: '', name: '' },
  formOf: ({ name }) => ({ name }),
  schema: carrierForm,
  withValues: (carrier, { name }) => ({ ...carrier, name }),
}

const accountsText = (n: number): string => (n === 1 ? '1 account' : `${count(n)} accounts`)

/** Who takes the parcels. */
export function Carriers({ initial }: { initial: SetupView }) {
  const view = useSetup(initial)
  return (
    <ListScreen
      at="carriers"
      about="Who takes the parcels"
      kind={kind}
      things={view.carriers}
      services={Object.fromEntries(view.services.map(({ id, name }) => [id, name]))}
      hint={({ id }) => ((view.accounts[id] ?? 0) === 0 ? 'no account' : accountsText(view.accounts[id] ?? 0))}
      empty="No carrier yet. Add one, then connect the account that you have with it."
      fields={(form) => <Fields form={form} />}
      more={(carrier) => <More carrier={carrier} view={view} />}
    />
  )
}

function Fields({ form }: { form: UseFormReturn<CarrierForm> }) {
  return (
    <Part title="Carrier">
      <div className="w-80">
        <Field label="Name" wrong={form.formState.errors.name?.message}>
          <TextInput className="w-full" placeholder="Heron Parcel" {...form.register('name')} />
        </Field>
      </div>
    </Part>
  )
}

function More({ carrier, view }: { carrier: Carrier; view: SetupView }) {
  const accounts = view.accounts[carrier.id] ?? 0
  const services = view.services.filter((service) => service.carrier === carrier.id)
  return (
    <>
      <Part title="Accounts">
        <p>
          {accounts === 0
            ? 'No account is connected: nothing can be bought from it yet. '
            : `${accountsText(accounts)} connected. `}
          <Link
            className="inline-flex min-h-[24px] items-center text-act underline decoration-hair underline-offset-4"
            href={
              accounts === 0
                ? `/intake/connections?open=new-carrier&of=${encodeURIComponent(carrier.id)}`
                : '/intake/connections'
            }
          >
            {accounts === 0 ? 'Connect an account' : 'Connections'}
          </Link>
        </p>
      </Part>
      <Part title="Services">
        <ul>
          {services.map(({ id, name, retired }) => (
            <li key={id}>
              <Link
                className="inline-flex min-h-[24px] items-center text-act underline decoration-hair"
                href={`/setup/services?one=${encodeURIComponent(id)}`}
              >
                {name}
              </Link>
              {retired && <span className="text-soft"> retired</span>}
            </li>
          ))}
        </ul>
        <p className="flex flex-wrap gap-3">
          <Link
            className="inline-flex min-h-[24px] items-center text-act underline decoration-hair underline-offset-4"
            href="/setup/services?add=true"
          >
            Add a service
          </Link>
          {accounts > 0 && <CarriersOwn carrier={carrier.id} />}
        </p>
      </Part>
    </>
  )
}
