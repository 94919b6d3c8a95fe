'use client'
import Link from 'next/link'
import { useState } from 'react'
import { Controller } from 'react-hook-form'
import type { Service } from '@/core/rating'
import type { ListChange } from '@/usecases/setup/lists'
import type { SetupView } from '@/usecases/setup/showSetup'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { CellTable } from '../../kit/CellTable'
import { Field, Select, TextInput } from '../../kit/Field'
import { dayWithYear } from '../../kit/format'
import { units } from '../../kit/locale'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'
import { useEditForm } from '../../kit/useEditForm'
import { Part } from '../ListScreen'
import {
  blankTariff,
  type PriceForm,
  priceForm,
  priceFormOf,
  type PriceValues,
  tariffOn,
  withPrices,
  wrongCell,
} from './priceForm'

/** What a service costs now, by weight and zone. Surcharges, and tariffs of other days, are in the file of tariffs. */
export function Prices({ service, view }: { service: Service; view: SetupView }) {
  const [today] = useState(() => new Date().toISOString().slice(0, 10))
  const known = tariffOn(view.tariffs, service.id, today)
  const tariff = known ?? blankTariff(service.id, view.seller.home, today)
  const { form, edit } = useEditForm<PriceForm, PriceValues>(`prices ${service.id}`, priceFormOf(tariff), priceForm)
  const change = useChange(['setup'])
  const say = useSay()
  const zones = [...new Set(service.zones.map(({ zone }) => zone))]
  const currency = edit.value.currency
  const parsed = priceForm.safeParse(edit.value)
  const next = parsed.success ? withPrices(tariff, parsed.data, zones) : null
  const save = (): Promise<boolean> =>
    change(
      () =>
        call('PUT /api/setup/lists', {
          body: {
            list: 'tariffs',
            before: (known ?? null) as ListChange['before'],
            after: next as ListChange['after'],
          },
        }),
      () => {
        edit.drop()
        say(`The prices of ${service.name} are saved; the waiting orders are routed again`)
      },
    )
  const currencies = [...new Set([view.seller.home, tariff.currency, ...Object.keys(view.seller.micro)])]
  return (
    <Part title={known ? `Prices since ${dayWithYear(known.from)}` : 'Prices'}>
      {zones.length === 0 ? (
        <p className="text-soft">First say where it goes, and save: each zone has its prices.</p>
      ) : (
        <>
          <div className="mb-2 grid grid-cols-[7rem_1fr_1fr] gap-3">
            <Field label="Currency">
              <Select {...form.register('currency')}>
                {currencies.map((code) => (
                  <option key={code}>{code}</option>
                ))}
              </Select>
            </Field>
            <Field
              label={`Dimensional divisor, ${units() === 'imperial' ? 'in³ for a pound' : 'cm³ for a kilogram'}`}
              wrong={
                form.formState.errors.divisor?.message ??
                parsed.error?.issues.find(({ path }) => path[0] === 'divisor')?.message
              }
            >
              <TextInput placeholder="only the scales count" {...form.register('divisor')} />
            </Field>
            <Field label="Weight is rounded up to">
              <TextInput placeholder="not at all" {...form.register('roundUpTo')} />
            </Field>
          </div>
          <Controller
            control={form.control}
            name="rows"
            render={({ field }) => (
              <CellTable
                label={`Prices of ${service.name}`}
                columns={[
                  { id: 'weight', name: 'Up to', width: '10rem', example: '2 kg' },
                  ...zones.map((zone) => ({ id: zone, name: `${zone}, ${currency}`, right: true, example: '4.90' })),
                ]}
                rows={field.value}
                wrong={(row, column) => wrongCell(field.value[row] ?? {}, column, currency)}
                onChange={field.onChange}
              />
            )}
          />
          {edit.editing && (
            <p className="flex items-center gap-2 pt-2">
              <Button disabled={next === null || edit.overtaken} onClick={save}>
                Save the prices
              </Button>
              <Button kind="quiet" onClick={edit.drop}>
                Put the prices back
              </Button>
              {edit.overtaken && (
                <span className="text-wait">Somebody else has changed these prices: put yours back to see theirs.</span>
              )}
            </p>
          )}
        </>
      )}
      <p className="pt-1 text-small text-soft">
        Surcharges and prices of other days:{' '}
        <Link
          className="inline-flex min-h-[24px] items-center text-act underline decoration-hair"
          href="/ledger/tariffs"
        >
          tariffs
        </Link>
        .
      </p>
    </Part>
  )
}
