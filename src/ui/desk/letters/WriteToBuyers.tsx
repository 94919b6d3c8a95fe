'use client'
import { keepPreviousData, skipToken, useQuery } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import type { LetterText, QuestionId } from '@/core/telling'
import type { LettersPreview, LettersView, ToWrite } from '@/usecases/desk/writeToBuyers'
import { call, sentenceOf } from '../../kit/api'
import { Beside } from '../../kit/Beside'
import { Button } from '../../kit/Button'
import { Field, Select, TextArea, TextInput } from '../../kit/Field'
import { orderCount } from '../../kit/format'
import { Placeholders } from '../../kit/Placeholders'
import { Resumed } from '../../kit/Resumed'
import { Tick } from '../../kit/Tick'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'
import { type Edit, useEdit } from '../../kit/useEdit'
import { useRested } from '../../kit/useRested'
import { LeftOutOrders } from '../many/LeftOutOrders'

/** What is being written: a question in each buyer's language, or words of one's own. */
interface Draft {
  readonly question: QuestionId | null
  readonly text: LetterText
  readonly hold: boolean
}
const begin: Draft = { question: 'po box', text: { subject: '', body: '' }, hold: true }

/** Writes to the buyers of orders: what each would read, and which orders wait for the answer. */
export function WriteToBuyers({ orders, onClose }: { orders: readonly number[]; onClose: () => void }) {
  const edit = useEdit<Draft>('letter to buyers', begin)
  const { data: texts } = useQuery({ queryKey: ['letters'], queryFn: () => call('GET /api/desk/letters') })
  const change = useChange(['order'], ['desk'], ['line'])
  const say = useSay()
  const given: ToWrite = { orders, ...edit.value }
  const wanted = JSON.stringify(given)
  const rested = useRested(wanted)
  const { data, error, isFetching } = useQuery({
    queryKey: ['letters', 'preview', rested],
    queryFn:
      rested === null
        ? skipToken
        : () => call('POST /api/desk/letters/preview', { body: JSON.parse(rested) as ToWrite }),
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 0,
    meta: { quiet: true },
  })
  // One key for one intent: the same words to the same orders are sent once.
  const key = useRef({ of: '', key: '' })
  const send = async (): Promise<void> => {
    if (key.current.of !== wanted) key.current = { of: wanted, key: crypto.randomUUID() }
    const done = await change(
      () => call('POST /api/desk/letters', { body: { ...given, key: key.current.key } }),
      ({ count, held }) =>
        say(
          `Written to ${count === 1 ? 'the buyer' : `${count} buyers`}${held > 0 ? `; ${orderCount(held)} held until they answer` : ''}`,
        ),
    )
    if (!done) return
    edit.drop()
    onClose()
  }
  const count = data?.count ?? 0
  return (
    <Beside
      label="Write to buyers"
      title={orders.length === 1 ? 'Write to the buyer' : `Write to the buyers of ${orderCount(orders.length)}`}
      onClose={onClose}
    >
      <div className="min-h-0 flex-1 overflow-auto px-4 py-3" tabIndex={0} role="region" aria-label="The letter">
        <Resumed edit={edit} onDrop={edit.drop} />
        {texts && <Words edit={edit} texts={texts} />}
        <div className="mt-3">
          <Tick
            label="Hold until they answer"
            on={edit.value.hold}
            onChange={(hold) => edit.put({ ...edit.value, hold })}
          />
          <p className="pl-[22px] text-small text-soft">
            The answer lands on the order; it goes on once you have read it.
          </p>
        </div>
        {error && (
          <p role="alert" className="mt-3 text-lost">
            {sentenceOf(error)}
          </p>
        )}
        {data && !error && <Seen seen={data} stale={isFetching} />}
      </div>
      <p className="flex items-center gap-3 border-t border-hair px-4 py-3">
        <Button
          kind="filled"
          calls="POST /api/desk/letters"
          disabled={count === 0 || Boolean(error) || rested !== wanted}
          onClick={send}
        >
          {count === 1 ? 'Send the letter' : `Send ${count} letters`}
        </Button>
        <span className="text-soft">{data && data.held > 0 && `${orderCount(data.held)} will be held`}</span>
      </p>
    </Beside>
  )
}

/** Which words: a question, some that were kept, or one's own. */
function Words({ edit, texts }: { edit: Edit<Draft>; texts: LettersView }) {
  const { question, text } = edit.value
  const change = useChange(['letters'])
  const kept = texts.kept.find((one) => one.subject === text.subject && one.body === text.body)
  const chosen = question ?? (kept ? `kept ${kept.id}` : 'own')
  const choose = (value: string): void => {
    const asked = texts.questions.find(({ id }) => id === value)
    if (asked) return edit.put({ ...edit.value, question: asked.id })
    const own = texts.kept.find(({ id }) => `kept ${id}` === value)
    if (own) return edit.put({ ...edit.value, question: null, text: { subject: own.subject, body: own.body } })
    edit.put({ ...edit.value, question: null, text: texts.questions.find(({ id }) => id === question)?.text ?? text })
  }
  const put = (next: Partial<LetterText>): void => edit.put({ ...edit.value, text: { ...text, ...next } })
  return (
    <div className="mt-1 grid gap-3">
      <Field
        label="What"
        hint={question === null ? 'Everybody gets these words as they are.' : 'Each buyer reads it in their language.'}
      >
        <Select autoFocus value={chosen} onChange={(event) => choose(event.target.value)}>
          <optgroup label="Questions">
            {texts.questions.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </optgroup>
          {texts.kept.length > 0 && (
            <optgroup label="Kept words">
              {texts.kept.map(({ id, name }) => (
                <option key={id} value={`kept ${id}`}>
                  {name}
                </option>
              ))}
            </optgroup>
          )}
          <option value="own">Words of your own</option>
        </Select>
      </Field>
      {question !== null && (
        <Button kind="quiet" className="justify-self-start" onClick={() => choose('own')}>
          Change these words
        </Button>
      )}
      {question === null && (
        <>
          <Field label="Subject">
            <TextInput
              className="w-full"
              maxLength={200}
              value={text.subject}
              onChange={(event) => put({ subject: event.target.value })}
            />
          </Field>
          <Field label="Letter">
            <TextArea
              className="w-full"
              rows={9}
              maxLength={10_000}
              value={text.body}
              onChange={(event) => put({ body: event.target.value })}
            />
          </Field>
          <Placeholders list={texts.placeholders} />
          {kept ? (
            <p className="flex items-baseline gap-2 text-soft">
              Kept as “{kept.name}”.
              <Button
                kind="quiet"
                onClick={() =>
                  change(
                    () => call('DELETE /api/desk/letters/texts', { body: { id: kept.id } }),
                    'These words are not kept any more',
                  )
                }
              >
                Keep no more
              </Button>
            </p>
          ) : (
            <Keep text={text} />
          )}
        </>
      )}
    </div>
  )
}

/** Keeps the words for the next time. */
function Keep({ text }: { text: LetterText }) {
  const [name, setName] = useState('')
  const change = useChange(['letters'])
  return (
    <form
      className="flex items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        void change(
          () => call('PUT /api/desk/letters/texts', { body: { name, text } }),
          `Kept as “${name}”: choose it under What`,
        )
      }}
    >
      <Field label="Keep these words as" className="flex-1">
        <TextInput
          className="w-full"
          required
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </Field>
      <Button type="submit" disabled={text.body.trim() === ''}>
        Keep
      </Button>
    </form>
  )
}

/** What the first of them would read, and who is not written to. */
function Seen({ seen, stale }: { seen: LettersPreview; stale: boolean }) {
  return (
    <section aria-label="What they read" aria-busy={stale} className="mt-4">
      <LeftOutOrders left={seen.left} said="are left out" />
      {seen.letters.map(({ order, to, language, subject, body }) => (
        <article key={order} lang={language} className="mt-3 border-l-2 border-hair pl-3">
          <p className="text-small text-soft" lang="en">
            <span className="font-mono">{order}</span>, to {to}
          </p>
          <p className="font-semibold">{subject}</p>
          <p className="whitespace-pre-line text-soft">{body.replace(/https?:\/\/\S{30,}/g, '(link)')}</p>
        </article>
      ))}
      {seen.count > seen.letters.length && (
        <p className="mt-2 text-soft">And {seen.count - seen.letters.length} more.</p>
      )}
    </section>
  )
}
