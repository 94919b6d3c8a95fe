'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { Language, Medium, NoticePlan, NoticeStep } from '@/core/telling'
import { call, sentenceOf } from '../../kit/api'
import { TextInput } from '../../kit/Field'
import { count } from '../../kit/format'
import { useRested } from '../../kit/useRested'

interface Props {
  readonly plan: NoticePlan
  readonly step: NoticeStep
  readonly medium: Medium
  readonly language: Language
}

/** The notice as it would come to the customer of an order: on a telephone, and in plain text. */
export function Preview({ plan, step, medium, language }: Props) {
  const [number, setNumber] = useState('')
  const asked = useRested(JSON.stringify({ plan, step, medium, language, number }), 200)
  const { data, error } = useQuery({
    queryKey: ['notice-preview', asked],
    queryFn: () =>
      call('POST /api/tracking/notices/preview', { body: JSON.parse(asked!) as Props & { number: string } }),
    enabled: asked !== null,
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 0,
  })
  return (
    <div
      className="flex min-h-0 flex-col overflow-auto border-l border-hair bg-sheet px-4 py-3"
      tabIndex={0}
      role="region"
      aria-label="Preview"
    >
      <label className="flex items-center gap-2 text-soft">
        Shown for order
        <TextInput
          value={number}
          placeholder={data?.number ?? 'the newest'}
          onChange={(event) => setNumber(event.target.value)}
          className="w-32 font-mono"
        />
      </label>
      {error && (
        <p role="alert" className="mt-2 text-lost">
          {sentenceOf(error)}
        </p>
      )}
      {data && (
        <>
          <p className="mt-1 text-small text-soft">{data.told}</p>
          {data.problem && (
            <p role="alert" className="mt-2 bg-lost-soft p-2 text-lost">
              {data.problem} Until it is corrected, the usual words are sent.
            </p>
          )}
          {medium === 'text' ? (
            <TextMessage data={data} />
          ) : (
            <>
              <p className="mt-2 border-y border-hair py-1.5">
                <span className="text-soft">Subject</span> <b className="font-semibold">{data.subject}</b>
              </p>
              <iframe
                title="The letter on a telephone"
                sandbox=""
                srcDoc={data.html}
                className="mt-2 h-[440px] w-full shrink-0 border border-hair bg-white"
              />
              <h3 className="mt-3 text-small text-soft">In plain text</h3>
              <pre className="font-mono text-small [overflow-wrap:anywhere] whitespace-pre-wrap">{data.text}</pre>
            </>
          )}
        </>
      )}
    </div>
  )
}

function TextMessage({
  data: { text, weight },
}: {
  data: {
    readonly text: string
    readonly weight: { readonly parts: number; readonly alphabet: string; readonly costly: readonly string[] }
  }
}) {
  return (
    <>
      <p className="mt-3 max-w-[300px] rounded-[10px] bg-act-soft p-3 break-words">{text}</p>
      <p className={`mt-2 ${weight.parts > 1 ? 'text-wait' : 'text-soft'}`}>
        {count(text.length)} signs, {weight.alphabet}:{' '}
        <b className="font-semibold">
          {weight.parts === 1 ? 'one message' : `charged as ${count(weight.parts)} messages`}
        </b>
        {weight.costly.length > 0 &&
          `. ${weight.costly.join(' ')} ${weight.costly.length === 1 ? 'is' : 'are'} not in the small alphabet: without, more fits into one.`}
      </p>
    </>
  )
}
