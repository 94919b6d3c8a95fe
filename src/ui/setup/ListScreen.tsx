'use client'
import { parseAsBoolean, parseAsString, useQueryStates } from 'nuqs'
import { type ReactNode, useState } from 'react'
import type { FieldValues, UseFormReturn } from 'react-hook-form'
import { Button } from '../kit/Button'
import { Confirm } from '../kit/Confirm'
import { TextInput } from '../kit/Field'
import { EditNotes } from '../kit/EditNotes'
import { Plain } from '../kit/Screen'
import { useEdits } from '../kit/useEdit'
import { Rerouting } from '../rules/Rerouting'
import { Effect } from './Effect'
import { SetupHead, type SetupPart } from './SetupHead'
import { UsesOf } from './UsesOf'
import { type ThingKind, useThing } from './useThing'
import { aStep, typedStep } from '../kit/step'

interface Props<T extends object, In extends FieldValues, Out extends FieldValues> {
  readonly at: SetupPart
  readonly about: string
  readonly kind: ThingKind<T, In, Out>
  readonly things: readonly T[]
  /** Services by name, for what changes. */
  readonly services: Readonly<Record<string, string>>
  /** What is said of one in the list, behind its name. */
  readonly hint: (thing: T) => ReactNode
  /** Under which heading one stands in the list; all under none when absent. */
  readonly groupOf?: (thing: T) => string
  readonly fields: (form: UseFormReturn<In, unknown, Out>, thing: T) => ReactNode
  /** What stands below the form of one that is saved. */
  readonly more?: (thing: T) => ReactNode
  /** What stands below the list. */
  readonly below?: ReactNode
  /** What to do where there is none. */
  readonly empty: ReactNode
}

const isRetired = (thing: object): boolean => (thing as { retired?: boolean }).retired === true

/** A list of things that are set up: one is chosen or made, changed with what it would do, retired or deleted. */
export function ListScreen<T extends object, In extends FieldValues, Out extends FieldValues>(
  props: Props<T, In, Out>,
) {
  const { at, about, kind, things, services, hint, groupOf, below, empty } = props
  const [{ one, add, q }, go] = useQueryStates(
    { one: parseAsString, add: parseAsBoolean.withDefault(false), q: parseAsString.withDefault('') },
    aStep,
  )
  const [since] = useState(() => new Date().toISOString())
  const edits = useEdits(`${kind.list} `)
  const words = q.trim().toLowerCase().split(/\s+/).filter(Boolean)
  const found = things.filter((thing) =>
    words.every((word) =>
      `${kind.nameOf(thing)} ${kind.keyOf(thing)} ${groupOf?.(thing) ?? ''}`.toLowerCase().includes(word),
    ),
  )
  const chosen = add ? null : (things.find((thing) => kind.keyOf(thing) === one) ?? found[0] ?? null)
  const makes = add || things.length === 0
  const groups = [...new Set(found.map((thing) => groupOf?.(thing) ?? ''))]
  return (
    <div className="flex h-full flex-col">
      <SetupHead at={at} about={about} />
      <Rerouting since={since} services={services} />
      <div className="panes min-h-0 flex-1 [--panes:330px_1fr] border-t border-hair">
        <div className="flex min-h-0 flex-col border-r border-hair bg-sheet">
          <p className="flex gap-2 px-4 py-2">
            <TextInput
              aria-label={`Search ${kind.list}`}
              placeholder={`Search ${kind.list}`}
              className="min-w-0 flex-1"
              value={q}
              onChange={(event) => void go({ q: event.target.value || null }, typedStep(q, event.target.value))}
            />
            <Button onClick={() => go({ add: true, one: null })}>New {kind.one}</Button>
          </p>
          <div className="min-h-0 flex-1 overflow-auto" tabIndex={0} role="region" aria-label={listLabel(kind.list)}>
            {groups.map((group) => (
              <section key={group}>
                {group !== '' && <h2 className="px-4 pt-2 pb-1 text-small text-soft">{group}</h2>}
                <ul>
                  {found
                    .filter((thing) => (groupOf?.(thing) ?? '') === group)
                    .sort((a, b) => Number(isRetired(a)) - Number(isRetired(b)))
                    .map((thing) => {
                      const key = kind.keyOf(thing)
                      const here = !makes && thing === chosen
                      return (
                        <li key={key}>
                          <button
                            aria-current={here || undefined}
                            onClick={() => void go({ one: key, add: null })}
                            className={`flex min-h-7 w-full items-baseline gap-2 border-b border-hair/60 px-4 py-1.5 text-left ${here ? 'bg-act-soft font-semibold' : 'hover:bg-tint'}`}
                          >
                            <span className={isRetired(thing) ? 'text-soft line-through' : ''}>
                              {kind.nameOf(thing)}
                            </span>
                            {edits.has(key) && <b className="text-small text-wait">not saved</b>}
                            <span className="ml-auto whitespace-nowrap text-small font-normal text-soft">
                              {isRetired(thing) ? 'retired' : hint(thing)}
                            </span>
                          </button>
                        </li>
                      )
                    })}
                </ul>
              </section>
            ))}
            {found.length === 0 && things.length > 0 && (
              <p className="px-4 py-6 text-soft">None has these words. Search for less.</p>
            )}
            {things.length === 0 && <div className="px-4 py-4 text-soft">{empty}</div>}
            {below}
          </div>
        </div>
        {makes || chosen ? (
          <Editor
            key={makes ? 'new' : kind.keyOf(chosen!)}
            {...props}
            thing={makes ? null : chosen}
            onSaved={(key) => void go({ one: key, add: null })}
            onLeave={() => void go({ add: null })}
          />
        ) : (
          <Plain title="Choose one in the list" />
        )}
      </div>
    </div>
  )
}

const listLabel = (list: string): string => `${list.slice(0, 1).toUpperCase()}${list.slice(1)}`

function Editor<T extends object, In extends FieldValues, Out extends FieldValues>({
  kind,
  thing,
  services,
  fields,
  more,
  things,
  onSaved,
  onLeave,
}: Props<T, In, Out> & {
  readonly thing: T | null
  readonly onSaved: (key: string | null) => void
  readonly onLeave: () => void
}) {
  const { form, edit, change, save, put } = useThing(kind, thing, onSaved)
  const [asking, setAsking] = useState(false)
  const name = thing ? kind.nameOf(thing) : `New ${kind.one}`
  const began = thing ?? kind.blank
  return (
    <div className="flex min-h-0 flex-col">
      <div
        className="min-h-0 flex-1 overflow-auto px-5 py-3"
        tabIndex={0}
        role="region"
        aria-label={thing ? `${listLabel(kind.one)} ${name}` : name}
      >
        <form noValidate onSubmit={(event) => void form.handleSubmit(save)(event)}>
          <div className="flex min-h-9 items-center gap-3 pb-2">
            <h2 className="text-lead">{name}</h2>
            <span className="ml-auto flex gap-2">
              {edit.editing ? (
                <Button kind="quiet" onClick={edit.drop}>
                  Put back
                </Button>
              ) : (
                thing && <Removal thing={thing} put={put} name={name} onAsk={() => setAsking(true)} />
              )}
              {!thing && things.length > 0 && (
                <Button
                  kind="quiet"
                  onClick={() => {
                    edit.drop()
                    onLeave()
                  }}
                >
                  Leave it
                </Button>
              )}
              {(edit.editing || !thing) && (
                <Button
                  kind="filled"
                  calls="PUT /api/setup/lists"
                  type="submit"
                  disabled={(thing !== null && edit.overtaken) || form.formState.isSubmitting}
                >
                  {thing ? 'Save and route again' : `Add the ${kind.one}`}
                </Button>
              )}
            </span>
          </div>
          <EditNotes
            edit={thing ? edit : { ...edit, overtaken: false }}
            what={`“${name}”`}
            mine={linesOf(edit.value)}
            theirs={thing ? linesOf(kind.formOf(thing)) : []}
          />
          {fields(form, began)}
        </form>
        {thing && more?.(thing)}
        {thing && (
          <section className="border-t border-hair py-2.5">
            <h3 className="pb-1.5 text-small text-soft">Where it is used</h3>
            <UsesOf list={kind.list} id={kind.keyOf(thing)} />
          </section>
        )}
      </div>
      {thing && <Effect change={edit.overtaken ? null : change} services={services} />}
      {thing && (
        <Confirm
          open={asking}
          danger
          title={`Delete ${name}?`}
          action="Delete it"
          onClose={() => setAsking(false)}
          onConfirm={() => put(null, `${name} is deleted`).finally(() => setAsking(false))}
        >
          <p>Nothing is sent by it any more. What rules name, or labels of the past bear, is not deleted.</p>
          <Effect
            change={{ list: kind.list, before: thing as Record<string, unknown>, after: null }}
            services={services}
          />
        </Confirm>
      )}
    </div>
  )
}

/** Retires, brings back or deletes. */
function Removal<T extends object>({
  thing,
  name,
  put,
  onAsk,
}: {
  thing: T
  name: string
  put: (after: T | null, done: string) => Promise<boolean>
  onAsk: () => void
}) {
  const { retired: _retired, ...used } = thing as T & { retired?: boolean }
  return (
    <>
      {isRetired(thing) ? (
        <Button onClick={() => put(used as unknown as T, `${name} is used again`)}>Use it again</Button>
      ) : (
        <Button
          kind="quiet"
          onClick={() => put({ ...thing, retired: true }, `${name} is retired; what bears its name keeps it`)}
        >
          Retire it
        </Button>
      )}
      <Button kind="danger" onClick={onAsk}>
        Delete …
      </Button>
    </>
  )
}

/** What is typed, one line a field, for people. */
const linesOf = (form: FieldValues): string[] => Object.entries(form).map(([key, value]) => `${key}: ${lineOf(value)}`)

function lineOf(value: unknown): string {
  if (Array.isArray(value)) return value.map(lineOf).join(', ')
  return typeof value === 'object' && value !== null ? Object.values(value).map(lineOf).join(' ') : String(value)
}

/** A part of a form, under its heading; `head` is h2 where nothing is above it but the screen's own. */
export const Part = ({
  title,
  head: Head = 'h3',
  children,
}: {
  title: string
  head?: 'h2' | 'h3'
  children: ReactNode
}) => (
  <section className="border-t border-hair py-2.5">
    <Head className="pb-1.5 text-small text-soft">{title}</Head>
    {children}
  </section>
)
