'use client'
import dynamic from 'next/dynamic'
import { useState } from 'react'
import type { World } from '@/core/world'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { OrderView, TrailLine } from '@/usecases/desk/showOrder'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { useChange } from '../../kit/useChange'
import { pinnable } from './pinnable'
import { Section } from './Section'

const PinEditor = dynamic(() => import('./PinEditor').then((module) => module.PinEditor), { ssr: false })

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
  const [editing, setEditing] = useState<string | null>(null)
  const path = { id: String(view.row.id) }
  const change = useChange(['order', view.row.id], ['desk'])
  const done = (): void => setEditing(null)
  const pin = (decision: string, value: unknown): Promise<boolean> =>
    change(() => call('POST /api/desk/orders/:id/pins', { path, body: { decision, value } }), done)
  const release = (decision: string): Promise<boolean> =>
    change(() => call('DELETE /api/desk/orders/:id/pins', { path, body: { decision } }), done)
  const missing = pinnable.filter((kind) => !view.trail.some((line) => line.decision === kind.id))
  return (
    <Section
      title="Decisions"
      action={
        view.row.hold && waiting ? (
          <Button kind="quiet" onClick={() => pin('hold', null)}>
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
              <Button kind="quiet" onClick={() => release(line.decision)}>
                Release
              </Button>
            )}
            {waiting && pinnable.some((kind) => kind.id === line.decision) && (
              <Button
                kind="quiet"
                aria-label={`Override ${line.name}`}
                onClick={() => setEditing(editing === line.decision ? null : line.decision)}
              >
                Override
              </Button>
            )}
          </div>
          <Why line={line} />
          {editing === line.decision && (
            <PinEditor
              decision={line.decision}
              world={world}
              onCancel={() => setEditing(null)}
              onPin={(value) => pin(line.decision, value)}
            />
          )}
        </div>
      ))}
      {waiting && missing.length > 0 && (
        <div className="flex flex-wrap items-center gap-1 pt-2">
          <span className="text-soft">Decide by hand:</span>
          {missing.map((kind) => (
            <Button key={kind.id} kind="quiet" onClick={() => setEditing(editing === kind.id ? null : kind.id)}>
              {kind.name}
            </Button>
          ))}
        </div>
      )}
      {editing && missing.some((kind) => kind.id === editing) && (
        <PinEditor
          decision={editing}
          world={world}
          onCancel={() => setEditing(null)}
          onPin={(value) => pin(editing, value)}
        />
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
