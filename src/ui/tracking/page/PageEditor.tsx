'use client'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { type Face, type Faces, type Language, languageNames, languages } from '@/core/telling'
import type { FacesView } from '@/usecases/tracking/faces'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Select } from '../../kit/Field'
import { EditNotes } from '../../kit/EditNotes'
import { useChange } from '../../kit/useChange'
import { useEdit } from '../../kit/useEdit'
import { TrackingHead } from '../TrackingHead'
import { FaceForm } from './FaceForm'
import { PagePictures } from './PagePictures'

/** The page that customers see: edited beside its picture, kept as a draft, published when it is ready. */
export function PageEditor({
  initial,
  channels,
}: {
  initial: FacesView
  channels: readonly { readonly id: string; readonly name: string }[]
}) {
  const { data: view } = useQuery({
    queryKey: ['customers-page'],
    queryFn: () => call('GET /api/tracking/page'),
    initialData: initial,
    refetchInterval: 10_000,
  })
  const edit = useEdit<Faces>('customers page', view.draft)
  const [channel, setChannel] = useState('')
  const [language, setLanguage] = useState<Language>('en')
  const change = useChange(['customers-page'])
  const faces = edit.value
  const own = channel === '' ? faces.all : faces.channels[channel]
  const face = own ?? faces.all
  const put = (next: Face): void =>
    edit.put(channel === '' ? { ...faces, all: next } : { ...faces, channels: { ...faces.channels, [channel]: next } })
  const share = (): void => {
    const { [channel]: _gone, ...rest } = faces.channels
    edit.put({ ...faces, channels: rest })
  }
  const save = async (publish: boolean): Promise<void> => {
    const body = { version: view.version, draft: faces, publish }
    const done = publish ? 'Published: customers see it from now on' : 'The draft is saved; customers see no change yet'
    if (await change(() => call('PUT /api/tracking/page', { body }), done)) edit.drop()
  }
  const unpublished = JSON.stringify(faces) !== JSON.stringify(view.published)
  return (
    <div className="flex h-full flex-col">
      <TrackingHead
        at="page"
        about={unpublished ? 'A draft: customers see the page that was published' : 'What customers see'}
      >
        {edit.editing && (
          <Button kind="quiet" onClick={edit.drop}>
            Put back
          </Button>
        )}
        {edit.editing && (
          <Button disabled={edit.overtaken} onClick={() => save(false)}>
            Save the draft
          </Button>
        )}
        {unpublished && (
          <Button kind="filled" calls="PUT /api/tracking/page" disabled={edit.overtaken} onClick={() => save(true)}>
            Publish
          </Button>
        )}
      </TrackingHead>
      <div className="panes min-h-0 flex-1 [--panes:420px_minmax(0,1fr)] border-t border-hair">
        <div className="min-h-0 overflow-auto px-5 py-3" tabIndex={0} role="region" aria-label="How it looks">
          <EditNotes edit={edit} what="the page" mine={faceLines(faces)} theirs={faceLines(view.draft)} />
          <div className="flex flex-wrap items-center gap-2 pb-3">
            <Select aria-label="Page of" value={channel} onChange={(event) => setChannel(event.target.value)}>
              <option value="">all channels</option>
              {channels.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                  {id in faces.channels && ' – its own'}
                </option>
              ))}
            </Select>
            {channel !== '' &&
              (own ? (
                <Button kind="quiet" onClick={share}>
                  As all channels again
                </Button>
              ) : (
                <Button onClick={() => put(faces.all)}>Give it its own page</Button>
              ))}
          </div>
          {channel !== '' && !own ? (
            <p className="text-soft">This channel has the page of all channels.</p>
          ) : (
            <FaceForm face={face} language={language} onChange={put} />
          )}
        </div>
        <PagePictures faces={faces} channel={channel} language={language}>
          <Select
            aria-label="Language of the page"
            value={language}
            onChange={(event) => setLanguage(event.target.value as Language)}
          >
            {languages.map((id) => (
              <option key={id} value={id}>
                {languageNames[id]}
              </option>
            ))}
          </Select>
        </PagePictures>
      </div>
    </div>
  )
}

/** A page as a person reads it, line by line. */
const faceLines = ({ all, channels }: Faces): string[] =>
  Object.entries({ 'all channels': all, ...channels }).flatMap(([name, face]) => [
    `${name}: ${Object.entries(face.colours)
      .map(([part, colour]) => `${part} ${colour}`)
      .join(', ')}`,
    `${name}: shows ${Object.entries(face.show)
      .filter(([, on]) => on)
      .map(([part]) => part)
      .join(', ')}`,
    `${name}: logo ${face.logo || 'none'}`,
    ...face.links.map(({ label, url }) => `${name}: ${label} ${url}`),
    ...Object.entries(face.texts).map(
      ([language, text]) => `${name}, ${language}: ${text?.above ?? ''} … ${text?.below ?? ''}`,
    ),
  ])
