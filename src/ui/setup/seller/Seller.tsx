'use client'
import { useRouter } from 'next/navigation'
import { Controller } from 'react-hook-form'
import type { SetupView } from '@/usecases/setup/showSetup'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { CellTable } from '../../kit/CellTable'
import { Field, Select, TextInput } from '../../kit/Field'
import { EditNotes } from '../../kit/EditNotes'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'
import { useEditForm } from '../../kit/useEditForm'
import { Part } from '../ListScreen'
import { SetupHead } from '../SetupHead'
import { useSetup } from '../useSetup'
import { type SellerForm, sellerForm, sellerFormOf, type SellerValues, withSellerValues, wrongRate } from './sellerForm'

const common = ['EUR', 'GBP', 'USD', 'CAD', 'AUD', 'CHF', 'JPY', 'PLN', 'SEK', 'NOK', 'DKK', 'TND']

/** Who sells, in which currency the books are kept, and in which units and on which paper they are used to reading. */
export function Seller({ initial }: { initial: SetupView }) {
  const { seller, done } = useSetup(initial)
  const router = useRouter()
  const saved = sellerFormOf(seller)
  const { form, edit } = useEditForm<SellerForm, SellerValues>('seller', saved, sellerForm)
  const change = useChange(['setup'])
  const say = useSay()
  const { errors } = form.formState
  const save = (values: SellerValues): Promise<boolean> =>
    change(
      () => call('PUT /api/setup/seller', { body: { before: seller, after: withSellerValues(values) } }),
      () => {
        edit.drop()
        say('The settings are saved')
        // Currency and units are around all screens.
        router.refresh()
      },
    )
  const lines = (of: SellerForm): string[] => [
    `name: ${of.name}`,
    `letters from: ${of.mail}`,
    `home currency: ${of.home}`,
    `units: ${of.units}`,
    `paper: ${of.paper}`,
    `GS1 company prefix: ${of.gs1Prefix}`,
    ...of.rates.map(({ currency = '', rate = '' }) => `${currency}: ${rate}`),
  ]
  return (
    <div className="flex h-full flex-col">
      <SetupHead at="seller" about="Who sells, and in which units" />
      <div
        className="min-h-0 flex-1 overflow-auto border-t border-hair px-5"
        tabIndex={0}
        role="region"
        aria-label="Seller"
      >
        <form noValidate className="max-w-2xl pb-6" onSubmit={(event) => void form.handleSubmit(save)(event)}>
          <EditNotes edit={edit} what="these settings" mine={lines(edit.value)} theirs={lines(saved)} />
          <Part head="h2" title="Seller">
            <div className="grid gap-3 min-[700px]:grid-cols-2">
              <Field label="Name" wrong={errors.name?.message} hint="As letters and the tracking page say it.">
                <TextInput className="w-full" {...form.register('name')} />
              </Field>
              <Field
                label="Letters to customers come from"
                wrong={errors.mail?.message}
                hint="Without it, no letter goes out."
              >
                <TextInput
                  type="email"
                  className="w-full"
                  placeholder="hello@shop.example"
                  {...form.register('mail')}
                />
              </Field>
              <Field
                label="Home currency"
                wrong={errors.home?.message}
                hint="The books are kept in it. It stays once a label is bought."
              >
                <TextInput className="w-full" list="currencies" {...form.register('home')} />
                <datalist id="currencies">
                  {common.map((code) => (
                    <option key={code} value={code} />
                  ))}
                </datalist>
              </Field>
              <Field label="Weights and lengths" hint="A number without a unit is read so too.">
                <Select className="w-full" {...form.register('units')}>
                  <option value="metric">grams, kilograms, centimetres</option>
                  <option value="imperial">ounces, pounds, inches</option>
                </Select>
              </Field>
              <Field label="Paper in the printers">
                <Select className="w-full" {...form.register('paper')}>
                  <option value="A4">A4</option>
                  <option value="Letter">Letter</option>
                </Select>
              </Field>
              <Field
                label="GS1 company prefix"
                wrong={errors.gs1Prefix?.message}
                hint="Pallets and cages get an SSCC of it. Without one their codes hold in this house alone."
              >
                <TextInput className="w-full" inputMode="numeric" {...form.register('gs1Prefix')} />
              </Field>
            </div>
          </Part>
          <Part head="h2" title="What one unit of other currencies is worth in it">
            <Controller
              control={form.control}
              name="rates"
              render={({ field }) => (
                <CellTable
                  label="Exchange rates"
                  columns={[
                    { id: 'currency', name: 'Currency', width: '8rem', example: 'GBP' },
                    { id: 'rate', name: `in ${edit.value.home}`, right: true, example: '1.1635' },
                  ]}
                  rows={field.value}
                  wrong={(row) => wrongRate(field.value[row] ?? {})}
                  onChange={field.onChange}
                />
              )}
            />
            {errors.rates && (
              <p role="alert" className="py-1 text-small text-lost">
                {errors.rates.message ?? errors.rates.root?.message}
              </p>
            )}
          </Part>
          {(edit.editing || !done.seller) && (
            <p className="flex gap-2">
              <Button
                kind="filled"
                calls="PUT /api/setup/seller"
                type="submit"
                disabled={edit.overtaken || form.formState.isSubmitting}
              >
                Save
              </Button>
              {edit.editing && (
                <Button kind="quiet" onClick={edit.drop}>
                  Put back
                </Button>
              )}
            </p>
          )}
        </form>
      </div>
    </div>
  )
}
