'use client'
import { useState } from 'react'
import { weightTolerance } from '@/core/bench'
import { typedWeight } from '../../kit/read'
import type { BenchView } from '@/usecases/dispatch/bench/benchView'
import { call, sentenceOf } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Field, TextInput } from '../../kit/Field'
import { weightText } from '../../kit/format'

/** What the parcel weighs: as the scale shows it; one that is off is asked about. */
export function WeighForm({
  view,
  scale,
  onWeigh,
}: {
  view: BenchView
  /** The bench whose scale can be asked; null where weights are typed. */
  scale: string | null
  onWeigh: (grams: number, why: string) => Promise<string | null>
}) {
  const [typed, setTyped] = useState('')
  const [asked, setAsked] = useState<{ grams: number; sentence: string } | null>(null)
  const [why, setWhy] = useState('')
  const [wrong, setWrong] = useState('')
  if (view.state !== 'open' && view.weight === null) return null
  const send = async (grams: number, reason: string): Promise<void> => {
    const sentence = await onWeigh(grams, reason)
    if (sentence !== null && reason === '') setAsked({ grams, sentence })
    if (sentence === null) {
      setAsked(null)
      setTyped('')
      setWhy('')
    }
  }
  const read = async (bench: string): Promise<void> => {
    try {
      const { grams } = await call('POST /api/dispatch/bench/weight', { body: { bench } })
      setWrong('')
      setTyped(weightText(grams))
      await send(grams, '')
    } catch (error) {
      setWrong(sentenceOf(error))
    }
  }
  return (
    <form
      className={`grid gap-2 p-3 ${view.weighed && view.weight === null ? 'bg-wait-soft' : 'bg-tint'}`}
      onSubmit={(event) => {
        event.preventDefault()
        // Enter behind the reason answers what was asked.
        if (asked && why.trim() !== '') return void send(asked.grams, why.trim())
        const grams = typedWeight(typed)
        setWrong(grams === null ? 'A weight such as 1.25 kg or 380 g.' : '')
        if (grams !== null) void send(grams, '')
      }}
    >
      <p>
        Should weigh <b>{weightText(view.computed)}</b>{' '}
        <span className="text-soft">(± {weightText(weightTolerance(view.computed))})</span>
        {view.weight !== null && (
          <>
            , weighs <b>{weightText(view.weight)}</b>
          </>
        )}
      </p>
      {view.state === 'open' && (
        <div className="flex items-end gap-2">
          <Field
            label={view.weighed ? 'The scale shows' : 'The scale shows (not asked for here)'}
            wrong={wrong}
            className="flex-1"
          >
            <TextInput
              className="w-full text-lead"
              inputMode="decimal"
              placeholder="1.25 kg"
              value={typed}
              onChange={(event) => {
                setTyped(event.target.value)
                setAsked(null)
              }}
            />
          </Field>
          <Button type="submit">Weigh</Button>
          {scale !== null && <Button onClick={() => read(scale)}>Read the scale</Button>}
        </div>
      )}
      {asked && (
        <div role="alert" className="grid gap-2 bg-lost-soft p-2.5">
          <p className="text-lost">{asked.sentence}</p>
          <Field label="It is right all the same, because">
            <TextInput
              className="w-full"
              value={why}
              maxLength={300}
              onChange={(event) => setWhy(event.target.value)}
            />
          </Field>
          <Button
            className="justify-self-start"
            disabled={why.trim() === ''}
            onClick={() => send(asked.grams, why.trim())}
          >
            Take {weightText(asked.grams)}
          </Button>
        </div>
      )}
    </form>
  )
}
