'use client'
import { useQuery } from '@tanstack/react-query'
import { parseAsStringLiteral, useQueryState } from 'nuqs'
import { useState } from 'react'
import { type Language, mediums, type Medium, type NoticePlan, type NoticeStep, noticeSteps } from '@/core/telling'
import type { NoticesView } from '@/usecases/tracking/noticeSettings'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Field, TextInput } from '../../kit/Field'
import { EditNotes } from '../../kit/EditNotes'
import { useChange } from '../../kit/useChange'
import { useEdit } from '../../kit/useEdit'
import { TrackingHead } from '../TrackingHead'
import { NoticeText } from './NoticeText'
import { Preview } from './Preview'
import { mediumWords, planLines, stepWords, whoText } from './noticeWords'
import { WhoIsTold } from './WhoIsTold'
import { aStep } from '../../kit/step'

/** At which steps customers are told, who, and in which words. */
export function Notices({ initial }: { initial: NoticesView }) {
  const { data: view } = useQuery({
    queryKey: ['notices-plan'],
    queryFn: () => call('GET /api/tracking/notices'),
    initialData: initial,
    refetchInterval: 10_000,
  })
  const edit = useEdit<NoticePlan>('notices', view.plan)
  const plan = edit.value
  const [step, setStep] = useQueryState(
    'step',
    parseAsStringLiteral(noticeSteps).withDefault('label made').withOptions(aStep),
  )
  const [medium, setMedium] = useQueryState('by', parseAsStringLiteral(mediums).withDefault('mail').withOptions(aStep))
  const [language, setLanguage] = useState<Language>('en')
  const [channel, setChannel] = useState('')
  const change = useChange(['notices-plan'])
  const save = async (): Promise<void> => {
    const body = { version: view.version, plan }
    if (await change(() => call('PUT /api/tracking/notices', { body }), 'Saved: the next notices go by it')) edit.drop()
  }
  const put = (next: Partial<NoticePlan>): void => edit.put({ ...plan, ...next })
  const set = (at: NoticeStep, by: Medium, next: Partial<NoticePlan['steps'][NoticeStep][Medium]>): void =>
    put({ steps: { ...plan.steps, [at]: { ...plan.steps[at], [by]: { ...plan.steps[at][by], ...next } } } })
  const silent = view.channels.filter(({ why }) => why !== '')
  const texts = Object.values(plan.steps).some(({ text }) => text.on)
  return (
    <div className="flex h-full flex-col">
      <TrackingHead at="notices" about="What customers are told, when, and how">
        {edit.editing && (
          <Button kind="quiet" onClick={edit.drop}>
            Put back
          </Button>
        )}
        {edit.editing && (
          <Button kind="filled" calls="PUT /api/tracking/notices" disabled={edit.overtaken} onClick={() => save()}>
            Save
          </Button>
        )}
      </TrackingHead>
      <div className="panes min-h-0 flex-1 [--panes:400px_minmax(0,1fr)_372px] border-t border-hair">
        <div className="min-h-0 overflow-auto px-5 py-3" tabIndex={0} role="region" aria-label="Steps">
          <EditNotes edit={edit} what="the notices" mine={planLines(plan)} theirs={planLines(view.plan)} />
          <table className="w-full">
            <thead>
              <tr className="border-b border-hair text-left text-small text-soft">
                <th className="py-1 font-normal">When it is …</th>
                <th className="py-1 font-normal">by mail</th>
                <th className="py-1 font-normal">by text message</th>
              </tr>
            </thead>
            <tbody>
              {noticeSteps.map((at) => (
                <tr key={at} className="border-b border-hair/70">
                  <th scope="row" className="py-1 pr-2 text-left font-normal">
                    {stepWords[at]}
                  </th>
                  {mediums.map((by) => {
                    const chosen = at === step && by === medium
                    return (
                      <td key={by} className={`p-0 ${chosen ? 'bg-act-soft' : ''}`}>
                        <span className="flex items-center gap-3 px-1">
                          <input
                            type="checkbox"
                            aria-label={`${stepWords[at]}, ${mediumWords[by]}`}
                            checked={plan.steps[at][by].on}
                            onChange={(event) => {
                              set(at, by, { on: event.target.checked })
                              void setStep(at)
                              void setMedium(by)
                            }}
                            className="size-4 accent-[var(--act)]"
                          />
                          <button
                            aria-pressed={chosen}
                            aria-label={`Words and readers: ${stepWords[at]}, ${mediumWords[by]}`}
                            className="min-h-[29px] flex-1 text-left text-act"
                            onClick={() => {
                              void setStep(at)
                              void setMedium(by)
                            }}
                          >
                            {whoText(plan.steps[at][by])}
                          </button>
                        </span>
                      </td>
                    )
                  })}
                </tr>
              ))}
            </tbody>
          </table>
          <div className="mt-4 grid grid-cols-3 gap-3">
            <Field label="Wait (minutes)">
              <TextInput
                type="number"
                min={0}
                max={1440}
                value={plan.waits}
                onChange={(event) =>
                  put({ waits: Math.max(0, Math.min(1440, Math.round(Number(event.target.value)))) })
                }
              />
            </Field>
            <Field label="Quiet from">
              <TextInput
                type="time"
                value={plan.quiet.from}
                onChange={(event) => put({ quiet: { ...plan.quiet, from: event.target.value || '00:00' } })}
              />
            </Field>
            <Field label="until">
              <TextInput
                type="time"
                value={plan.quiet.until}
                onChange={(event) => put({ quiet: { ...plan.quiet, until: event.target.value || '00:00' } })}
              />
            </Field>
          </div>
          <p className="mt-1 text-small text-soft">
            {plan.quiet.from === plan.quiet.until
              ? 'The same time twice: no quiet hours. '
              : 'Quiet hours are those of the customer’s own time zone. '}
            Two messages about an order are an hour apart, unless the second is of no use later. A rule may say
            otherwise: “mail the customer”, “text the customer”, “also tell the customer when it is”.
          </p>
          {texts && !view.gateway && (
            <p role="alert" className="mt-3 bg-wait-soft p-2.5">
              There is no gateway for text messages: connect one under Intake, Connections.
            </p>
          )}
          {view.from === '' && (
            <p role="alert" className="mt-3 bg-wait-soft p-2.5">
              Say in Set-up, Seller, from which address letters come.
            </p>
          )}
          {silent.map(({ id, why }) => (
            <p key={id} className="mt-2 text-soft">
              {why}
            </p>
          ))}
        </div>
        <div
          className="min-h-0 overflow-auto border-l border-hair px-5 py-3"
          tabIndex={0}
          role="region"
          aria-label="Words and readers"
        >
          <h2 className="text-lead">
            When it is {stepWords[step]}, {mediumWords[medium]}
          </h2>
          <WhoIsTold
            telling={plan.steps[step][medium]}
            channels={view.channels}
            onChange={(next) => set(step, medium, next)}
          />
          <NoticeText
            plan={plan}
            {...{ step, medium, language, channel }}
            channels={view.channels}
            onLanguage={setLanguage}
            onChannel={setChannel}
            onTexts={(list) => put({ texts: list })}
          />
        </div>
        <Preview {...{ plan, step, medium, language }} />
      </div>
    </div>
  )
}
