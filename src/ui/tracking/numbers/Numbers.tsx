'use client'
import { useState } from 'react'
import type { AnswerOf } from '@/usecases/endpoints'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Field, TextArea } from '../../kit/Field'
import { count } from '../../kit/format'
import { Resumed } from '../../kit/Resumed'
import { useChange } from '../../kit/useChange'
import { useEdit } from '../../kit/useEdit'
import { useSay } from '../../kit/Toast'
import { TrackingHead } from '../TrackingHead'
import { numberLines } from './numberLines'

type Taken = AnswerOf<'POST /api/tracking/numbers'>

const numbersText = (n: number): string => (n === 1 ? '1 number' : `${count(n)} numbers`)
const ordersText = (n: number): string => (n === 1 ? '1 order' : `${count(n)} orders`)

/** Numbers of parcels that left without labels from here: pasted, or from a file; looked at first, then taken. */
export function Numbers() {
  // A pasted list outlives a reload, until it is taken.
  const half = useEdit<string>('list of numbers', '')
  const text = half.value
  const [looked, setLooked] = useState<Taken | null>(null)
  const change = useChange(['board'], ['tracking'], ['desk'], ['line'])
  const say = useSay()
  const lines = numberLines(text)
  const edit = (next: string): void => {
    half.put(next)
    setLooked(null)
  }
  const ask = (take: boolean, done: (answer: Taken) => void): Promise<boolean> =>
    change(() => call('POST /api/tracking/numbers', { body: { lines, take } }), done)
  const takeThem = (): Promise<boolean> =>
    ask(true, (answer) => {
      say(`${numbersText(answer.numbers)} of ${ordersText(answer.orders)} are taken; channels and customers are told`)
      // What could not be taken stays, to be put right.
      const left = new Set(answer.bad.map(({ line }) => line))
      half.put(
        lines
          .filter((_, i) => left.has(i + 1))
          .map(({ order, number, carrier }) => [order, number, carrier].join('\t'))
          .join('\n'),
      )
      setLooked(answer.bad.length > 0 ? { ...answer, orders: 0, numbers: 0 } : null)
    })
  return (
    <div className="flex h-full flex-col">
      <TrackingHead at="numbers" about="Of parcels that left without labels from here" />
      <div
        className="min-h-0 flex-1 overflow-auto border-t border-hair px-5 py-4"
        tabIndex={0}
        role="region"
        aria-label="Numbers"
      >
        <div className="grid max-w-4xl gap-3">
          <Resumed edit={half} />
          <Field
            label="Order, tracking number, carrier: one parcel a line"
            hint="Pasted from a spreadsheet, or typed with commas between. The carrier may be left out where the form of the number says it. Lines of the same order are its parcels."
          >
            <TextArea
              rows={10}
              className="w-full font-mono"
              spellCheck={false}
              placeholder={'MG-10421\tDL0004711\nMG-10422\tNX770000000014\tNorthlight Express'}
              value={text}
              onChange={(event) => edit(event.target.value)}
            />
          </Field>
          <p className="flex flex-wrap items-center gap-3">
            <label className="cursor-pointer text-act underline decoration-hair underline-offset-4 focus-within:outline-2">
              From a file …
              <input
                type="file"
                accept=".csv,.txt,.tsv,text/csv,text/plain"
                className="sr-only"
                onChange={(event) => void event.target.files?.[0]?.text().then(edit)}
              />
            </label>
            <Button disabled={lines.length === 0} onClick={() => ask(false, setLooked)}>
              Look at {lines.length === 1 ? '1 line' : `${count(lines.length)} lines`}
            </Button>
            {looked && looked.orders > 0 && (
              <Button kind="filled" calls="POST /api/tracking/numbers" onClick={takeThem}>
                Take {numbersText(looked.numbers)} of {ordersText(looked.orders)}
              </Button>
            )}
          </p>
          {looked && (
            <div role="status">
              {looked.badLines === 0 ? (
                <p className="text-done">Every line can be taken.</p>
              ) : (
                <>
                  <p className="text-wait">
                    {looked.badLines === 1 ? '1 line' : `${count(looked.badLines)} lines`} cannot be taken
                    {looked.orders > 0 ? '; the others can' : ''}.
                  </p>
                  <table className="mt-2 w-full border-t border-hair bg-sheet">
                    <thead>
                      <tr className="border-b border-hair text-small text-soft">
                        <th className="w-16 px-3 py-1.5 text-right">Line</th>
                        <th className="w-40 text-left">Order</th>
                        <th className="text-left">What is wrong</th>
                      </tr>
                    </thead>
                    <tbody>
                      {looked.bad.map(({ line, order, sentence }) => (
                        <tr key={line} className="border-b border-hair/60 align-top">
                          <td className="px-3 py-1 text-right">{count(line)}</td>
                          <td className="py-1 font-mono text-small">{order}</td>
                          <td className="py-1">{sentence}</td>
                        </tr>
                      ))}
                    </tbody>
                  </table>
                </>
              )}
            </div>
          )}
        </div>
      </div>
    </div>
  )
}
