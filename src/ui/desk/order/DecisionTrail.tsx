'use client'
import { useState } from 'react'
import type { World } from '@/core/world'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { OrderView, TrailLine } from '@/usecases/desk/showOrder'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { useChange } from '../../kit/useChange'
import { DecideField } from '../deciding/DecideField'
import { isDecidedByHand } from '../deciding/offers'
import { useDecide } from '../deciding/useDecide'
import { Section } from './Section'

/** What was decided, by which rule and why, and what a person decides instead. */
export function DecisionTrail({
  view,
  names,
  world,
  waiting,
}: {
  view: OrderView
  names: DeskNames
  world: World
  waiting: boolean
}) {
  /** What the field begins with; each time it is asked for anew. */
  const [start, setStart] = useState({ text: '', time: 0 })
  const decide = useDecide()
  const change = useChange(['order', view.row.id], ['desk'])
  const release = (decision: string): Promise<boolean> =>
    change(() => call('DELETE /api/desk/orders/:id/pins', { path: { id: String(view.row.id) }, body: { decision } }))
  return (
    <Section
      title="Decisions"
      action={
        view.row.hold && waiting ? (
          <Button
            kind="quiet"
            calls="POST /api/desk/edits"
            onClick={() => decide([view.row.id], [{ do: 'pin', decision: 'hold', value: null }], 'hold released')}
          >
            Release the hold
          </Button>
        ) : undefined
      }
    >
      {view.trail.map((line) => (
        <div key={line.decision} className="border-b border-hair/60 py-1.5">
          <div className="flex items-baseline gap-2">
            <span className="w-28 shrink-0 text-soft">{line.name}</span>
            <b className="min-w-0 flex-1 font-semibold break-words">{line.value}</b>
            {waiting && line.pinned && (
              <Button kind="quiet" calls="DELETE /api/desk/orders/:id/pins" onClick={() => release(line.decision)}>
                Release
              </Button>
            )}
            {waiting && isDecidedByHand(line.decision) && (
              <Button
                kind="quiet"
                aria-label={`Override ${line.name}`}
                onClick={() => setStart(({ time }) => ({ text: `${line.name} `, time: time + 1 }))}
              >
                Override
              </Button>
            )}
          </div>
          <Why line={line} />
        </div>
      ))}
      {waiting && (
        <div className="pt-2">
          <DecideField
            key={start.time}
            world={world}
            start={start.text}
            autoFocus={start.time > 0}
            onDecide={(edit, said) => decide([view.row.id], [edit], said)}
          />
        </div>
      )}
      {view.stages.some((stage) => stage.finishedBy) &&
        view.stages
          .filter((stage) => stage.finishedBy)
          .map((stage) => (
            <p key={stage.stage} className="pt-1 text-small text-soft">
              “{stage.finishedBy}” finished the stage {stage.stage}: later rules there were not looked at.
            </p>
          ))}
      {Object.keys(names.services).length === 0 && <p className="text-soft">There are no services yet.</p>}
    </Section>
  )
}

function Why({ line }: { line: TrailLine }) {
  return (
    <div className="pl-30 text-small text-soft">
      {line.parts.length > 0 ? (
        line.parts.map((part) => (
          <p key={part.rule}>
            {part.value}: {part.rule}
          </p>
        ))
      ) : (
        <p className={line.pinned ? 'text-wait' : ''}>
          {line.by}
          {line.why && `, because ${line.why}`}
        </p>
      )}
      {line.others.map((other) => (
        <p key={other.rule + other.value}>
          <span className="line-through">{other.value}</span> wanted by {other.rule}, but {other.why}
        </p>
      ))}
    </div>
  )
}

/** Ways to pack that were weighed by their price: each with the sum of label and packaging. */
