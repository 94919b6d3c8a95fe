'use client'
import type { WaveRule } from '@/core/waves'
import type { DayView } from '@/usecases/dispatch/waves'
import type { DeskNames } from '@/usecases/desk/showDesk'
import { call } from '../../kit/api'
import { Beside } from '../../kit/Beside'
import { Button } from '../../kit/Button'
import { EditNotes } from '../../kit/EditNotes'
import { Field, TextInput } from '../../kit/Field'
import { Tick } from '../../kit/Tick'
import { useChange } from '../../kit/useChange'
import { useEdit } from '../../kit/useEdit'

/** How orders are gathered into waves: rules from the top down, the first that fits an order takes it. */
export function WaveRules({ day, names, onClose }: { day: DayView; names: DeskNames; onClose: () => void }) {
  const edit = useEdit<readonly WaveRule[]>('waves', day.rules)
  const change = useChange(['day'])
  const rules = edit.value
  const { put } = edit
  const set = (i: number, more: Partial<WaveRule>): void =>
    put(rules.map((rule, at) => (at === i ? { ...rule, ...more } : rule)))
  const move = (i: number, by: -1 | 1): void => {
    const next = [...rules]
    const [one] = next.splice(i, 1)
    next.splice(i + by, 0, one!)
    put(next)
  }
  const add = (): void =>
    put([
      ...rules,
      {
        ...{ id: crypto.randomUUID().slice(0, 12), name: '', locations: [], carriers: [], priorities: [] },
        ...{ singles: 0, most: 100 },
      },
    ])
  const save = (): Promise<boolean> =>
    change(
      () => call('PUT /api/dispatch/waves', { body: { version: day.version, rules } }),
      () => {
        edit.drop()
        onClose()
      },
    )
  return (
    <Beside label="How orders are gathered" title="How orders are gathered" onClose={onClose}>
      <div className="min-h-0 flex-1 overflow-auto px-4 py-3" tabIndex={0} role="region" aria-label="Waves by rule">
        <EditNotes edit={edit} what="the waves" mine={rules.map(inWords)} theirs={day.rules.map(inWords)} />
        <p className="text-soft">
          From the top down: the first that fits an order takes it. Orders of one wave leave from one place by one
          cut-off. What none takes is a wave, too.
        </p>
        <ol className="mt-2 grid gap-3">
          {rules.map((rule, i) => (
            <li key={rule.id} className="grid gap-2 border-l-2 border-hair pl-3">
              <div className="flex items-end gap-2">
                <Field label={`Wave ${i + 1}`} className="flex-1">
                  <TextInput
                    className="w-full"
                    maxLength={60}
                    placeholder="Urgent"
                    value={rule.name}
                    onChange={(event) => set(i, { name: event.target.value })}
                  />
                </Field>
                <Button
                  kind="quiet"
                  aria-label={`Move wave ${i + 1} up`}
                  disabled={i === 0}
                  onClick={() => move(i, -1)}
                >
                  ↑
                </Button>
                <Button
                  kind="quiet"
                  aria-label={`Move wave ${i + 1} down`}
                  disabled={i === rules.length - 1}
                  onClick={() => move(i, 1)}
                >
                  ↓
                </Button>
                <Button
                  kind="quiet"
                  aria-label={`Delete wave ${i + 1}`}
                  onClick={() => put(rules.filter((_, at) => at !== i))}
                >
                  Delete
                </Button>
              </div>
              <Some
                label="From"
                of={names.locations}
                chosen={rule.locations}
                onChange={(locations) => set(i, { locations })}
              />
              <Some
                label="By"
                of={names.carriers}
                chosen={rule.carriers}
                onChange={(carriers) => set(i, { carriers })}
              />
              <Some
                label="Priority"
                of={priorityNames}
                chosen={rule.priorities}
                onChange={(priorities) => set(i, { priorities })}
              />
              <div className="flex gap-3">
                <Field label="Single items, at least" hint="0: any order" className="w-36">
                  <TextInput
                    type="number"
                    min={0}
                    max={1000}
                    value={rule.singles}
                    onChange={(event) => set(i, { singles: Number(event.target.value) })}
                  />
                </Field>
                <Field label="Orders in a wave, at most" className="w-44">
                  <TextInput
                    type="number"
                    min={1}
                    max={5000}
                    value={rule.most}
                    onChange={(event) => set(i, { most: Number(event.target.value) })}
                  />
                </Field>
              </div>
            </li>
          ))}
        </ol>
        <Button className="mt-3" onClick={add}>
          Add a wave
        </Button>
      </div>
      <p className="flex items-center gap-3 border-t border-hair px-4 py-3">
        <Button kind="filled" calls="PUT /api/dispatch/waves" disabled={!edit.editing || edit.overtaken} onClick={save}>
          Save
        </Button>
        <span className="text-soft">Nothing is bought by it: waves are planned and bought by hand.</span>
      </p>
    </Beside>
  )
}

/** A rule in one line, to be compared. */
const inWords = ({ name, locations, carriers, priorities, singles, most }: WaveRule): string =>
  [name, ...locations, ...carriers, ...priorities, singles > 0 ? `singles from ${singles}` : '', `at most ${most}`]
    .filter(Boolean)
    .join(', ')

const priorityNames: Readonly<Record<string, string>> = { urgent: 'urgent', normal: 'normal', low: 'low' }

/** Which of several; none ticked is any. */
function Some({
  label,
  of,
  chosen,
  onChange,
}: {
  label: string
  of: Readonly<Record<string, string>>
  chosen: readonly string[]
  onChange: (next: readonly string[]) => void
}) {
  return (
    <fieldset className="flex flex-wrap items-center gap-x-3">
      <legend className="float-left w-16 text-small text-soft">{label}</legend>
      {Object.entries(of).map(([id, name]) => (
        <Tick
          key={id}
          label={name}
          on={chosen.includes(id)}
          onChange={(on) => onChange(on ? [...chosen, id] : chosen.filter((one) => one !== id))}
        />
      ))}
      {chosen.length === 0 && <span className="text-small text-soft">(any)</span>}
    </fieldset>
  )
}
