'use client'
import Link from 'next/link'
import type { UseFormReturn } from 'react-hook-form'
import { z } from 'zod'
import type { Carrier } from '@/core/rating'
import { type NumberForm, numberChecks } from '@/core/tracking'
import type { SetupView } from '@/usecases/setup/showSetup'
import { Field, TextArea, TextInput } from '../../kit/Field'
import { count } from '../../kit/format'
import { ListScreen, Part } from '../ListScreen'
import type { ThingKind } from '../useThing'
import { useSetup } from '../useSetup'
import { CarriersOwn } from './CarriersOwn'

const carrierForm = z.object({
  name: z.string().trim().min(1, 'Give it a name.').max(60, 'At most 60 characters.'),
  numbers: z.string().transform((text, context): readonly NumberForm[] => {
    const forms: NumberForm[] = []
    for (const line of text.split('\n').map((one) => one.trim())) {
      if (line === '') continue
      const [form = '', ...rest] = line.toUpperCase().split(/\s+/)
      const check = numberChecks.find((one) => one.toUpperCase() === (rest.join(' ') || 'NONE'))
      if (check && /^[A-Z0-9#@]{6,40}$/.test(form)) forms.push({ form, check })
      else
        context.addIssue({
          code: 'custom',
          message: check
            ? `“${form}” is no form: 6 to 40 capitals, digits, # for a digit and @ for a letter.`
            : `“${rest.join(' ')}” is no check digit: write ${numberChecks.join(', ')}.`,
        })
    }
    return forms
  }),
  refundDays: z
    .string()
    .trim()
    .regex(/^(?:\d{1,2}|[12]\d\d|3[0-5]\d|36[0-6])?$/, 'A number of days, up to 366.'),
})
type CarrierForm = z.input<typeof carrierForm>

const kind: ThingKind<Carrier, CarrierForm, z.output<typeof carrierForm>> = {
  list: 'carriers',
  one: 'carrier',
  keyOf: ({ id }) => id,
  nameOf: ({ name }) => name,
  blank: { id: '', name: '' },
  formOf: ({ name, numbers = [], refundDays }) => ({
    name,
    refundDays: refundDays === undefined ? '' : String(refundDays),
    numbers: numbers.map(({ form, check }) => (check === 'none' ? form : `${form} ${check}`)).join('\n'),
  }),
  schema: carrierForm,
  withValues: ({ numbers: _before, refundDays: _days, ...carrier }, { name, numbers, refundDays }) => ({
    ...carrier,
    name,
    ...(numbers.length === 0 ? {} : { numbers }),
    ...(refundDays === '' ? {} : { refundDays: Number(refundDays) }),
  }),
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

function Fields({ form }: { form: UseFormReturn<CarrierForm, unknown, z.output<typeof carrierForm>> }) {
  return (
    <Part title="Carrier">
      <div className="w-80">
        <Field label="Name" wrong={form.formState.errors.name?.message}>
          <TextInput className="w-full" placeholder="Heron Parcel" {...form.register('name')} />
        </Field>
        <div className="mt-3">
          <Field
            label="Forms of its tracking numbers"
            wrong={form.formState.errors.numbers?.message}
            hint={`One a line: # is a digit, @ a letter; behind it the check digit: ${numberChecks.slice(1).join(', ')}. With them a number that is mistyped, or another carrier’s, is not told to a channel.`}
          >
            <TextArea
              rows={3}
              className="w-full font-mono"
              placeholder="NX77########## modulo 10"
              {...form.register('numbers')}
            />
          </Field>
        </div>
        <div className="mt-3">
          <Field
            label="Refunds come within, days"
            wrong={form.formState.errors.refundDays?.message}
            hint="Of labels that are voided, as it has promised; 14 where nothing is said. Then it is asked again."
          >
            <TextInput className="w-20" inputMode="numeric" placeholder="14" {...form.register('refundDays')} />
          </Field>
        </div>
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
