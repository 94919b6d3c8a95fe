'use client'
import {
  type Colours,
  contrast,
  type Face,
  type Language,
  leastContrast,
  readable,
  type Shown,
  shownParts,
} from '@/core/telling'
import { sendFile } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Field, TextArea, TextInput } from '../../kit/Field'
import { FileDrop } from '../../kit/FileDrop'
import { notation } from '../../kit/locale'
import { Tick } from '../../kit/Tick'
import { useChange } from '../../kit/useChange'

const parts: Readonly<Record<Shown, string>> = {
  items: 'what is in the parcel',
  address: 'the address, in part',
  events: 'what happened so far',
  map: 'a map of the way',
}
const colourWords: readonly (readonly [keyof Colours, string])[] = [
  ['accent', 'Buttons and links'],
  ['paper', 'Ground'],
  ['ink', 'Text'],
]

interface Props {
  readonly face: Face
  readonly language: Language
  readonly onChange: (face: Face) => void
}

/** Logo, colours, texts, links, and what is shown. */
export function FaceForm({ face, language, onChange }: Props) {
  const change = useChange()
  const put = (next: Partial<Face>): void => onChange({ ...face, ...next })
  const words = face.texts[language] ?? { above: '', below: '' }
  const say = (next: Partial<typeof words>): void => {
    const { [language]: _before, ...rest } = face.texts
    const now = { ...words, ...next }
    put({ texts: now.above === '' && now.below === '' ? rest : { ...rest, [language]: now } })
  }
  const take = (file: File): Promise<boolean> =>
    change(
      () => sendFile('PUT /api/tracking/page/logo', { file }),
      ({ logo }) => put({ logo }),
    )
  return (
    <div className="grid gap-4">
      <section>
        <h2 className="text-lead">Logo</h2>
        {face.logo && (
          <p className="mt-1 flex items-center gap-3">
            <img src={`/logo/${face.logo}`} alt="Your logo" className="max-h-16 max-w-52" />
            <Button kind="quiet" onClick={() => put({ logo: '' })}>
              Take it away
            </Button>
          </p>
        )}
        <FileDrop id="logo" label="Choose a picture" accept="image/png,image/jpeg,image/webp" onFile={take}>
          PNG, JPEG or WebP, up to 2 MB
        </FileDrop>
      </section>
      <section>
        <h2 className="text-lead">Colours</h2>
        <div className="mt-1 grid grid-cols-3 gap-3">
          {colourWords.map(([part, name]) => (
            <Field key={part} label={name}>
              <span className="flex gap-1">
                <input
                  type="color"
                  aria-label={`${name}: choose`}
                  value={face.colours[part]}
                  onChange={(event) => put({ colours: { ...face.colours, [part]: event.target.value.toUpperCase() } })}
                  className="h-8 w-9 shrink-0 border border-hair bg-sheet"
                />
                <Hex
                  value={face.colours[part]}
                  name={name}
                  onChange={(hex) => put({ colours: { ...face.colours, [part]: hex } })}
                />
              </span>
            </Field>
          ))}
        </div>
        <Contrast colours={face.colours} onTake={(colours) => put({ colours })} />
      </section>
      <section>
        <h2 className="text-lead">It shows</h2>
        <div className="mt-1 grid grid-cols-2">
          {shownParts.map((part) => (
            <Tick
              key={part}
              label={parts[part]}
              on={face.show[part]}
              onChange={(on) => put({ show: { ...face.show, [part]: on } })}
            />
          ))}
          <Tick
            label="“How should it be delivered?”"
            on={face.asks.note}
            onChange={(note) => put({ asks: { ...face.asks, note } })}
          />
          <Tick
            label="“Something is wrong?”"
            on={face.asks.report}
            onChange={(report) => put({ asks: { ...face.asks, report } })}
          />
          <Tick
            label="“Send something back”"
            on={face.asks.returns !== false}
            onChange={(returns) => put({ asks: { ...face.asks, returns } })}
          />
        </div>
      </section>
      <section className="grid gap-2">
        <h2 className="text-lead">Your words, in the language that is shown</h2>
        <Field label="Above">
          <TextArea
            rows={2}
            maxLength={1000}
            value={words.above}
            onChange={(event) => say({ above: event.target.value })}
          />
        </Field>
        <Field label="Below">
          <TextArea
            rows={2}
            maxLength={1000}
            value={words.below}
            onChange={(event) => say({ below: event.target.value })}
          />
        </Field>
      </section>
      <Links links={face.links} onChange={(links) => put({ links })} />
    </div>
  )
}

function Hex({ value, name, onChange }: { value: string; name: string; onChange: (hex: string) => void }) {
  return (
    <TextInput
      key={value}
      aria-label={`${name}, as a number`}
      defaultValue={value}
      pattern="#[0-9A-Fa-f]{6}"
      className="w-full min-w-0 font-mono text-small invalid:border-lost"
      onBlur={(event) => {
        if (/^#[0-9A-Fa-f]{6}$/.test(event.target.value)) onChange(event.target.value.toUpperCase())
        else event.target.value = value
      }}
    />
  )
}

/** Says which colours cannot be read, and what they are moved to. */
function Contrast({ colours, onTake }: { colours: Colours; onTake: (colours: Colours) => void }) {
  const { accent, ink, paper } = readable(colours)
  const moved = [
    ...(accent === colours.accent.toUpperCase() ? [] : [`buttons and links as ${accent}`]),
    ...(ink === colours.ink.toUpperCase() ? [] : [`text as ${ink}`]),
  ]
  const worst = Math.min(contrast(colours.accent, colours.paper), contrast(colours.ink, colours.paper))
  if (moved.length === 0)
    return (
      <p className="mt-1 text-small text-soft">
        They can be read: contrast {notation().number(worst, 1)}, and {notation().number(leastContrast, 1)} is needed.
      </p>
    )
  return (
    <p role="status" className="mt-2 flex items-center gap-2 bg-wait-soft p-2">
      <span className="min-w-0 flex-1">
        Contrast {notation().number(worst, 1)} of {notation().number(leastContrast, 1)}: customers see{' '}
        {moved.join(' and ')}.
      </span>
      <Button kind="quiet" onClick={() => onTake({ accent, ink, paper })}>
        Take these
      </Button>
    </p>
  )
}

function Links({ links, onChange }: { links: Face['links']; onChange: (links: Face['links']) => void }) {
  const put = (at: number, next: Partial<Face['links'][number]>): void =>
    onChange(links.map((link, i) => (i === at ? { ...link, ...next } : link)))
  return (
    <section className="grid gap-2">
      <h2 className="text-lead">Links</h2>
      {links.map(({ label, url }, i) => (
        <div key={i} className="flex gap-2">
          <TextInput
            aria-label={`Link ${i + 1}, its words`}
            value={label}
            maxLength={60}
            className="w-32 min-w-0"
            onChange={(event) => put(i, { label: event.target.value })}
          />
          <TextInput
            aria-label={`Link ${i + 1}, its address`}
            value={url}
            maxLength={300}
            placeholder="https://"
            className="min-w-0 flex-1"
            onChange={(event) => put(i, { url: event.target.value })}
          />
          <Button
            kind="quiet"
            aria-label={`Take link ${i + 1} out`}
            onClick={() => onChange(links.filter((_, other) => other !== i))}
          >
            ×
          </Button>
        </div>
      ))}
      {links.length < 6 && (
        <Button className="justify-self-start" onClick={() => onChange([...links, { label: '', url: 'https://' }])}>
          Add a link
        </Button>
      )}
    </section>
  )
}
