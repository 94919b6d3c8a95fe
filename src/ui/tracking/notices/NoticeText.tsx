'use client'
import {
  type Language,
  languageNames,
  languages,
  type Medium,
  type NoticePlan,
  noticePlaceholders,
  type NoticeStep,
  type OwnText,
  usualText,
} from '@/core/telling'
import { Button } from '../../kit/Button'
import { Field, Select, TextArea, TextInput } from '../../kit/Field'
import { Placeholders } from '../../kit/Placeholders'

interface Props {
  readonly plan: NoticePlan
  readonly step: NoticeStep
  readonly medium: Medium
  readonly language: Language
  readonly channel: string
  readonly channels: readonly { readonly id: string; readonly name: string }[]
  readonly onLanguage: (language: Language) => void
  readonly onChannel: (channel: string) => void
  readonly onTexts: (texts: readonly OwnText[]) => void
}

/** The words of a step in a language: Gharry's, or the seller's own. */
export function NoticeText(props: Props) {
  const { plan, step, medium, language, channel, channels, onLanguage, onChannel, onTexts } = props
  const isIt = (text: OwnText): boolean =>
    text.step === step && text.medium === medium && text.language === language && text.channel === channel
  const own = plan.texts.find(isIt)
  const usual = usualText(step, medium, language)
  const put = (next: Partial<OwnText>): void =>
    onTexts([
      ...plan.texts.filter((text) => !isIt(text)),
      { step, medium, language, channel, ...usual, ...own, ...next },
    ])
  return (
    <div className="mt-3 grid gap-3">
      <div className="flex flex-wrap items-center gap-2">
        <Select aria-label="Language" value={language} onChange={(event) => onLanguage(event.target.value as Language)}>
          {languages.map((id) => (
            <option key={id} value={id}>
              {languageNames[id]}
              {plan.texts.some((text) => text.step === step && text.medium === medium && text.language === id) &&
                ' – own words'}
            </option>
          ))}
        </Select>
        <Select aria-label="Channel" value={channel} onChange={(event) => onChannel(event.target.value)}>
          <option value="">all channels</option>
          {channels.map(({ id, name }) => (
            <option key={id} value={id}>
              {name} only
            </option>
          ))}
        </Select>
        {own && (
          <Button kind="quiet" onClick={() => onTexts(plan.texts.filter((text) => !isIt(text)))}>
            Back to the usual words
          </Button>
        )}
      </div>
      {medium === 'mail' && (
        <Field label="Subject">
          <TextInput
            value={own?.subject ?? usual.subject}
            maxLength={200}
            onChange={(event) => put({ subject: event.target.value })}
          />
        </Field>
      )}
      <Field
        label={medium === 'mail' ? 'Letter' : 'Message'}
        hint={
          medium === 'mail'
            ? 'An empty line begins a paragraph. {{ link }} alone in one becomes the button.'
            : 'One message; what the first one of a customer ends with is added.'
        }
      >
        <TextArea
          value={own?.body ?? usual.body}
          rows={medium === 'mail' ? 14 : 5}
          maxLength={20_000}
          className="font-mono text-small"
          onChange={(event) => put({ body: event.target.value })}
        />
      </Field>
      <details>
        <summary className="cursor-pointer text-act">What can be named</summary>
        <Placeholders list={noticePlaceholders} />
      </details>
    </div>
  )
}
