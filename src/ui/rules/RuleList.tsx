'use client'
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
  type DragOverEvent,
} from '@dnd-kit/core'
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable'
import { useMemo, useRef, useState } from 'react'
import type { Finding, LogicFinding } from '@/core/rulebook/findings'
import {
  equalJson,
  type Rule,
  type Rulebook,
  type Stage,
  stages,
  withRulePlaced,
  type Wordings,
} from '@/core/rulebook/language'
import { Button } from '../kit/Button'
import { useShared } from '../kit/useShared'
import type { Choice } from './Chooser'
import type { SentenceContext } from './ConditionWords'
import { RuleRow, type Flow } from './RuleRow'
import { EffectOf } from './trial/Effect'
import type { LiveTrial } from './trial/useTrial'
import type { RuleCount } from './typing/typing.worker'
import type { RuleWork } from './useRules'

const about: Readonly<Record<Stage, string>> = {
  triage: 'tags, holds, weight corrections, priority',
  packing: 'package presets and what goes in',
  origin: 'where it ships from',
  protection: 'insurance, signature, what the service must offer',
  service: 'carriers and services',
  papers: 'slips, references, notices, automatic buying',
}
const nothing: readonly never[] = []
// The same objects at each drawing: with new ones every row would be drawn again.
const byPointer = { activationConstraint: { distance: 4 } }
const byKeyboard = { coordinateGetter: sortableKeyboardCoordinates }

/**
 * The rules stage by stage; `visible` says which of them a search leaves. While one is dragged, it is said what
 * dropping it would change.
 */
export function RuleList({
  rulebook,
  visible,
  flow,
  counts,
  published,
  findings,
  logic,
  words,
  seen,
  work,
  fresh,
  trial,
  onShow,
  onMoveStage,
}: {
  rulebook: Rulebook
  visible: (rule: Rule) => boolean
  flow: Readonly<Record<string, Flow>>
  counts: Readonly<Record<string, RuleCount>>
  published: ReadonlyMap<string, Rule>
  findings: readonly Finding[]
  logic: readonly LogicFinding[]
  words: Wordings
  seen: Readonly<Record<string, readonly Choice[]>>
  work: RuleWork
  fresh: string | null
  trial: LiveTrial
  onShow: (finding: LogicFinding) => void
  onMoveStage: (rule: Rule) => void
}) {
  const sensors = useSensors(useSensor(PointerSensor, byPointer), useSensor(KeyboardSensor, byKeyboard))
  const [dragging, setDragging] = useState(false)
  const target = useRef('')
  const shown = Object.fromEntries(
    stages.map((stage) => [stage, rulebook.rules.filter((rule) => rule.stage === stage && visible(rule))]),
  )
  const of = useShared({
    flow,
    counts,
    findings: byRule(findings),
    logic: byRule(logic),
    ids: Object.fromEntries(stages.map((stage) => [stage, shown[stage]!.map(({ id }) => id)])),
  })
  const contexts = useMemo(
    () =>
      Object.fromEntries(stages.map((stage) => [stage, { stage, words, seen }])) as unknown as Readonly<
        Record<Stage, SentenceContext>
      >,
    [words, seen],
  )
  const most = Math.max(1, ...Object.values(flow).map((counts) => counts.came))
  const over = ({ active, over: place }: DragOverEvent): void => {
    const key = `${active.id} ${place?.id ?? ''}`
    if (!place || key === target.current) return
    target.current = key
    trial.preview(withRulePlaced(rulebook, String(active.id), String(place.id)))
  }
  const end = (drop: DragEndEvent | null): void => {
    setDragging(false)
    target.current = ''
    trial.preview(null)
    if (drop?.over) work.place(String(drop.active.id), String(drop.over.id))
  }
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragStart={() => setDragging(true)}
      onDragOver={over}
      onDragEnd={end}
      onDragCancel={() => end(null)}
    >
      {dragging && (
        <p
          role="status"
          aria-live="off"
          className="fixed bottom-6 left-1/2 z-30 -translate-x-1/2 bg-ink px-4 py-2 text-sheet shadow-lg [&_b]:text-sheet"
        >
          <EffectOf what="the move" summary={trial.previewed} failed={trial.failed} />
        </p>
      )}
      {stages.map((stage, index) => {
        const all = rulebook.rules.filter((rule) => rule.stage === stage)
        const rules = shown[stage]!
        const above = stages.slice(0, index).reduce((sum, other) => sum + shown[other]!.length, 0)
        return (
          <section key={stage} aria-label={stage}>
            <h2 className="sticky top-0 z-10 flex items-baseline gap-3 border-y border-hair bg-paper px-5 py-1.5">
              <span className="text-lead capitalize">
                {index + 1} {stage}
              </span>
              <span className="text-small font-normal text-soft">{about[stage]}</span>
              <span className="ml-auto">
                <Button kind="quiet" onClick={() => work.add(stage)}>
                  Add a rule
                </Button>
              </span>
            </h2>
            <SortableContext items={of.ids[stage]!} strategy={verticalListSortingStrategy}>
              <ul>
                {rules.map((rule, i) => (
                  <RuleRow
                    key={rule.id}
                    rule={rule}
                    flow={rule.on ? of.flow[rule.id] : undefined}
                    count={of.counts[rule.id]}
                    most={most}
                    changed={changeMark(published.get(rule.id), rule)}
                    focusName={fresh === rule.id}
                    early={above + i < early}
                    context={contexts[stage]}
                    findings={of.findings[rule.id] ?? nothing}
                    logic={of.logic[rule.id] ?? nothing}
                    work={work}
                    onShow={onShow}
                    onMoveStage={onMoveStage}
                  />
                ))}
              </ul>
            </SortableContext>
            {all.length === 0 && (
              <p className="px-5 py-2 text-soft">No rule here yet: what is not decided goes Gharry’s own way.</p>
            )}
            {all.length > 0 && rules.length === 0 && (
              <p className="px-5 py-2 text-soft">None of the {all.length} rules here fits the search.</p>
            )}
          </section>
        )
      })}
    </DndContext>
  )
}

/** So many rules are drawn at once; the others as they come near. */
const early = 12

function byRule<T extends { readonly rule?: string }>(list: readonly T[]): Readonly<Record<string, readonly T[]>> {
  const found: Record<string, T[]> = {}
  for (const one of list) (found[one.rule ?? ''] ??= []).push(one)
  return found
}

/** How a rule differs from the edition in force; empty when it is the same. */
function changeMark(published: Rule | undefined, rule: Rule): '' | 'new' | 'changed' {
  if (!published) return 'new'
  return equalJson(published, rule) ? '' : 'changed'
}
