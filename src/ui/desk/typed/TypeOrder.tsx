'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { TypedOrder, TypedQuote } from '@/usecases/desk/typeOrder'
import { call, Refusal } from '../../kit/api'
import { Beside } from '../../kit/Beside'
import { Button } from '../../kit/Button'
import { Field, TextArea, TextInput } from '../../kit/Field'
import { homeMoney, shortDay } from '../../kit/format'
import { home } from '../../kit/locale'
import { Resumed } from '../../kit/Resumed'
import { useChange } from '../../kit/useChange'
import { useEdit } from '../../kit/useEdit'
import { Goods } from './Goods'
import { useRested } from '../../kit/useRested'
import { addressFields, emptyForm, readForm, type TypedForm } from './typedForm'

/** An order that somebody types: quoted as it is typed, and opened beside the list once it is one. */
export function TypeOrder({
  again,
  names,
  onDone,
  onClose,
}: {
  /** The order whose address and buyer it begins with. */
  again: number | null
  names: DeskNames
  onDone: (order: number) => void
  onClose: () => void
}) {
  const edit = useEdit<TypedForm>(`typed order${again === null ? '' : ` ${again}`}`, emptyForm)
  const [key, setKey] = useState(() => crypto.randomUUID())
  const [shown, setShown] = useState<Readonly<Record<string, string>>>({})
  const panel = useRef<HTMLElement>(null)
  const change = useChange(['desk'], ['line'])
  const form = edit.value
  const put = (part: Partial<TypedForm>): void => {
    setShown({})
    edit.put({ ...form, ...part })
  }
  useRecipient(again, edit.editing, put)
  const read = readForm(form, key)
  const quote = useQuote('order' in read ? read.order : null)
  useEffect(() => panel.current?.querySelector<HTMLElement>('textarea')?.focus(), [])
  const wrong = { ...shown, ...('wrong' in read ? read.wrong : {}) }
  const save = (): Promise<boolean> => {
    if ('wrong' in read) return Promise.resolve(false)
    return change(
      () =>
        call('POST /api/desk/typed', { body: read.order }).catch((error: unknown) => {
          if (error instanceof Refusal) setShown(error.fields)
          throw error
        }),
      ({ order }) => {
        edit.drop()
        setKey(crypto.randomUUID())
        onDone(order)
      },
    )
  }
  const text = (field: Exclude<keyof TypedForm, 'items'>, label: string, className = '', hint?: string) => (
    <Field label={label} wrong={wrong[field]} className={className} {...(hint ? { hint } : {})}>
      <TextInput
        className="w-full min-w-0"
        value={form[field]}
        onChange={(event) => put({ [field]: event.target.value })}
      />
    </Field>
  )
  return (
    <Beside
      ref={panel}
      label="New order"
      title={again === null ? 'New order' : 'Again to this address'}
      onClose={onClose}
    >
      <form
        className="flex min-h-0 flex-1 flex-col"
        noValidate
        onSubmit={(event) => {
          event.preventDefault()
          void save()
        }}
      >
        <div className="relative min-h-0 flex-1 overflow-auto px-4 pb-4">
          <Resumed edit={edit} onDrop={() => edit.drop()} />
          <WholeAddress country={form.country} onRead={(part) => put(part)} />
          <div className="mt-3 grid grid-cols-2 gap-2">
            {text('name', 'Name')}
            {text('company', 'Company')}
            <Field label="Street lines" wrong={wrong.lines} className="col-span-2">
              <TextArea
                rows={2}
                className="w-full"
                value={form.lines}
                onChange={(event) => put({ lines: event.target.value })}
              />
            </Field>
            {text('postcode', 'Postcode')}
            {text('city', 'City')}
            {text('region', 'Region')}
            {text('country', 'Country')}
            {text('email', 'E-mail')}
            {text('phone', 'Telephone')}
          </div>
          <Goods items={form.items} wrong={wrong} onChange={(items) => put({ items })} />
          <div className="mt-3 grid grid-cols-2 gap-2">
            {text('value', `Worth (${home()})`, '', 'For insurance and customs.')}
            {text('wording', 'Shipping wording', '', 'As a buyer would choose it, such as Standard.')}
            {text('number', 'Order number', '', 'Empty: the next one.')}
            <Field label="Promised for">
              <TextInput
                type="date"
                className="w-full min-w-0"
                value={form.promisedBy}
                onChange={(event) => put({ promisedBy: event.target.value })}
              />
            </Field>
          </div>
        </div>
        <footer className="border-t border-hair px-4 py-2">
          <Quoted quote={quote} names={names} />
          <p className="mt-2 flex gap-2">
            <Button kind="filled" calls="POST /api/desk/typed" type="submit">
              Take it in
            </Button>
            <Button
              kind="quiet"
              onClick={() => {
                edit.drop()
                onClose()
              }}
            >
              Throw it away
            </Button>
          </p>
        </footer>
      </form>
    </Beside>
  )
}

/** Fills in address and buyer of another order, unless something is typed already. */
function useRecipient(again: number | null, editing: boolean, put: (part: Partial<TypedForm>) => void): void {
  const { data } = useQuery({
    queryKey: ['recipient', again],
    queryFn: () => call('GET /api/desk/orders/:id/recipient', { path: { id: String(again) } }),
    enabled: again !== null,
    staleTime: Infinity,
  })
  const filled = useRef(false)
  useEffect(() => {
    if (!data || filled.current || editing) return
    filled.current = true
    put({ ...addressFields(data.shipTo), email: data.email, phone: data.phone })
  })
}

/** The quote of what is typed; a short rest of the keys is waited for. */
function useQuote(order: TypedOrder | null): TypedQuote | undefined {
  const text = order === null ? null : JSON.stringify({ ...order, key: 'a quote only' })
  const rested = useRested(text)
  const { data } = useQuery({
    queryKey: ['typed quote', rested],
    queryFn: () =>
      call('POST /api/desk/typed/quote', {
        body: JSON.parse(rested!) as TypedOrder,
      }),
    enabled: rested !== null,
    placeholderData: keepPreviousData,
    staleTime: 30_000,
  })
  return text === null ? undefined : data
}

/** A whole address, pasted, goes into the fields. */
function WholeAddress({ country, onRead }: { country: string; onRead: (part: Partial<TypedForm>) => void }) {
  const [block, setBlock] = useState('')
  const look = useChange()
  const read = (text: string): Promise<boolean> =>
    look(
      () => call('POST /api/desk/address', { body: { text, country: country.slice(0, 2) } }),
      ({ address, email, phone }) => {
        onRead({ ...addressFields(address), ...(email ? { email } : {}), ...(phone ? { phone } : {}) })
        setBlock('')
      },
    )
  return (
    <div className="mt-3 flex items-end gap-2">
      <Field label="Paste a whole address" className="flex-1" hint="Lines or commas between its parts.">
        <TextArea
          rows={2}
          className="w-full"
          value={block}
          onChange={(event) => setBlock(event.target.value)}
          onPaste={(event) => {
            const text = event.clipboardData.getData('text')
            if (block !== '' || text.trim() === '') return
            event.preventDefault()
            void read(text)
          }}
        />
      </Field>
      <Button className="mb-5" disabled={block.trim() === ''} onClick={() => read(block)}>
        Into fields
      </Button>
    </div>
  )
}

/** The service that the rules choose, then the cheapest. */
const chosenFirst = ({ quotes, chosen }: TypedQuote): TypedQuote['quotes'] => [
  ...quotes.filter(({ service }) => service === chosen),
  ...quotes.filter(({ service }) => service !== chosen),
]

/** What it would cost with each service, what the rules choose, and what is in the way. */
function Quoted({ quote, names }: { quote: TypedQuote | undefined; names: DeskNames }) {
  if (!quote || Object.keys(quote.fields).length > 0)
    return (
      <p className="text-soft">
        {Object.values(quote?.fields ?? {})[0] ?? 'What it costs is shown as soon as address and goods are there.'}
      </p>
    )
  return (
    <section aria-label="What it costs" aria-live="polite" className="max-h-52 overflow-auto">
      {quote.shipTo && (
        <p className="text-wait">
          △ What belongs to the buyer alone is taken out of the address: it does not reach the label.
        </p>
      )}
      {quote.problems.map((problem) => (
        <p key={problem} className="text-wait">
          △ {problem}
        </p>
      ))}
      {quote.held && <p className="text-wait">△ The rules hold it: {quote.held}.</p>}
      <table className="w-full">
        <thead className="sr-only">
          <tr>
            <th>Service</th>
            <th>Arrives</th>
            <th>Cost</th>
          </tr>
        </thead>
        <tbody>
          {chosenFirst(quote)
            .slice(0, 4)
            .map(({ service, arrivesOn, cost }) => (
              <tr
                key={service}
                className={`border-b border-hair/60 ${service === quote.chosen ? 'bg-done-soft font-semibold' : ''}`}
              >
                <td className="py-1 pl-1">
                  {service === quote.chosen ? '● ' : ''}
                  {names.services[service] ?? service}
                </td>
                <td className="py-1 text-right whitespace-nowrap">{shortDay(arrivesOn)}</td>
                <td className="w-20 py-1 pr-1 text-right">{homeMoney(cost)}</td>
              </tr>
            ))}
        </tbody>
      </table>
      {quote.parcels > 1 && <p className="text-soft">In {quote.parcels} parcels.</p>}
    </section>
  )
}
