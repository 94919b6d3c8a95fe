'use client'
import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core'
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { rulebookDifference, stages, type Rule, type Stage } from '@/core/rulebook'
import type { RulebookView } from '@/usecases/editRulebook'
import { call, sentenceOf } from '../kit/api'
import { Button } from '../kit/Button'
import { Confirm } from '../kit/Confirm'
import { count, euros } from '../kit/format'
import { KeyHelp } from '../kit/KeyHelp'
import { ScreenHead } from '../kit/Screen'
import { useSay } from '../kit/Toast'
import { useKeys } from '../kit/useKeys'
import type { Choice } from './Chooser'
import { RuleRow } from './RuleRow'
import { SideDrawer } from './SideDrawer'
import { TrialPanel } from './trial/TrialPanel'
import { TrialStrip } from './trial/TrialStrip'
import { useTrial } from './trial/useTrial'
import { useDraft } from './useDraft'

const about: Readonly<Record<Stage, string>> = {
  triage: 'tags, holds, weight corrections', packing: 'package presets', origin: 'where it ships from', protection: 'insurance and signature', service: 'carriers and services', papers: 'slips, references, buying by itself',
}

export function Rules({ initial, seen }: { initial: RulebookView; seen: Readonly<Record<string, readonly Choice[]>> }) {
  const client = useQueryClient()
  const say = useSay()
  const { data } = useQuery({ queryKey: ['rulebook'], queryFn: () => call<RulebookView>('/api/rulebook'), initialData: initial, refetchInterval: 3000 })
  const draft = useDraft(initial.draft, initial.revision, initial.findings)
  const [publishing, setPublishing] = useState(false)
  const [note, setNote] = useState('')
  const [fresh, setFresh] = useState<string | null>(null)
  const [drawer, setDrawer] = useState(false)
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }), useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }))
  useKeys({ 'mod+z': (e) => { e.preventDefault(); draft.undo() }, 'mod+Z': (e) => { e.preventDefault(); draft.redo() }, 'mod+y': (e) => { e.preventDefault(); draft.redo() } })

  const { rulebook } = draft
  const trial = useTrial(rulebook, data.inForce?.number ?? 0)
  const [looking, setLooking] = useState(false)
  const words = useMemo(() => ({ world: data.world, groups: rulebook.groups, conditions: rulebook.conditions ?? [] }), [data.world, rulebook.groups, rulebook.conditions])
  const published = useMemo(() => new Map((data.inForce?.rulebook.rules ?? []).map((rule) => [rule.id, JSON.stringify(rule)])), [data.inForce])
  const broken = data.pinned.filter((result) => result.broken.length > 0).length
  const differences = useMemo(() => (publishing && data.inForce ? rulebookDifference(data.inForce.rulebook, rulebook, data.world) : []), [publishing, data.inForce, data.world, rulebook])
  const differs = JSON.stringify(rulebook) !== JSON.stringify(data.inForce?.rulebook)
  const errors = draft.findings.filter((finding) => finding.severity === 'error').length
  // The counts of the draft as it is typed; until they are there, those of the edition in force.
  const flow = trial.result?.flow ?? data.flow?.counts ?? {}
  const most = Math.max(1, ...Object.values(flow).map((counts) => counts.came))

  const setRules = (change: (rules: readonly Rule[]) => readonly Rule[]): void => draft.change((before) => ({ ...before, rules: change(before.rules) }))
  const replaceRule = (next: Rule): void => setRules((rules) => rules.map((rule) => (rule.id === next.id ? next : rule)))
  const remove = (rule: Rule): void => {
    setRules((rules) => rules.filter((other) => other.id !== rule.id))
    say(`Deleted “${rule.name}”`, { undo: draft.undo })
  }
  const add = (stage: Stage): void => {
    const id = `r-${crypto.randomUUID().slice(0, 8)}`
    const last = rulebook.rules.map((rule) => rule.stage).lastIndexOf(stage)
    const rule: Rule = { id, stage, name: 'New rule', on: true, when: { all: [] }, then: [] }
    setFresh(id)
    setRules((rules) => (last < 0 ? [...rules, rule] : [...rules.slice(0, last + 1), rule, ...rules.slice(last + 1)]))
  }
  /** Moves a rule to the place of another one in the same stage. */
  const place = (id: string, over: string): void => setRules((rules) => {
    const from = rules.findIndex((rule) => rule.id === id)
    const to = rules.findIndex((rule) => rule.id === over)
    if (from < 0 || to < 0 || from === to || rules[from]!.stage !== rules[to]!.stage) return rules
    const next = [...rules]
    next.splice(to, 0, ...next.splice(from, 1))
    return next
  })
  const step = (rule: Rule, by: -1 | 1): void => {
    const peers = rulebook.rules.filter((other) => other.stage === rule.stage)
    const neighbour = peers[peers.findIndex((other) => other.id === rule.id) + by]
    if (neighbour) place(rule.id, neighbour.id)
  }
  const dropped = ({ active, over }: DragEndEvent): void => { if (over) place(String(active.id), String(over.id)) }

  const publish = async (): Promise<void> => {
    const revision = await draft.settled()
    if (revision === null) return say(draft.problem || 'The draft is not saved yet.', { tone: 'bad' })
    try {
      const { edition } = await call<{ edition: number }>('/api/rulebook/publish', { method: 'POST', body: { revision, note } })
      say(`Edition ${edition} is in force; waiting orders are routed again`)
      setPublishing(false)
      setNote('')
      await client.invalidateQueries({ queryKey: ['rulebook'] })
    } catch (error) {
      say(sentenceOf(error), { tone: 'bad' })
    }
  }
  const saved = { saved: 'Draft saved', saving: 'Saving …', unsaved: 'Not saved yet', conflict: 'Changed by somebody else' }[draft.state]
  const { routing } = data

  return (
    <div className="flex h-full">
      <div className="flex min-w-0 flex-1 flex-col">
        <ScreenHead title="Rules" about={<>{data.inForce ? `Edition ${data.inForce.number} in force` : 'Nothing published yet'} · <span className={draft.state === 'conflict' ? 'text-lost' : ''} role="status">{saved}</span>{routing && routing.state === 'queued' && <span className="text-wait"> · routing again {count(routing.done)} of {count(routing.total)}</span>}</>}>
          <Button kind="quiet" disabled={!draft.canUndo} onClick={draft.undo}>Undo</Button>
          <Button kind="quiet" disabled={!draft.canRedo} onClick={draft.redo}>Redo</Button>
          <Button onClick={() => setDrawer(!drawer)} aria-expanded={drawer}>Lists and editions{broken > 0 && <span className="rounded-full bg-wait-mark px-1.5 text-small font-bold text-[#231a2e]" aria-label={`${broken} pinned orders broken`}>{broken}</span>}</Button>
          <Button kind="filled" disabled={!differs} onClick={() => { void client.invalidateQueries({ queryKey: ['rulebook'] }); setPublishing(true) }}>Publish</Button>
        </ScreenHead>
        {data.inForce && <TrialStrip trial={trial} edition={data.inForce.number} open={looking} onOpen={() => setLooking(!looking)} />}
        {looking && trial.result && <TrialPanel result={trial.result} channels={data.channels} services={Object.fromEntries(data.world.services.map(({ id, name }) => [id, name]))} onClose={() => setLooking(false)} />}
        {draft.problem && (
          <p role="alert" className="flex items-center gap-3 bg-lost-soft px-5 py-2 text-lost">
            {draft.problem}
            {draft.state === 'conflict' && <Button kind="danger" onClick={() => { void call<RulebookView>('/api/rulebook').then((view) => draft.replace(view.draft, view.revision, view.findings)) }}>Load theirs (mine stays under Undo)</Button>}
          </p>
        )}
        <div className="min-h-0 flex-1 overflow-auto pb-10" tabIndex={0} role="region" aria-label="The rulebook">
          <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={dropped}>
            {stages.map((stage, index) => {
              const rules = rulebook.rules.filter((rule) => rule.stage === stage)
              return (
                <section key={stage} aria-label={stage}>
                  <h2 className="sticky top-0 z-10 flex items-baseline gap-3 border-y border-hair bg-paper px-5 py-1.5">
                    <span className="text-lead capitalize">{index + 1} {stage}</span>
                    <span className="text-small font-normal text-soft">{about[stage]}</span>
                    <span className="ml-auto"><Button kind="quiet" onClick={() => add(stage)}>Add a rule</Button></span>
                  </h2>
                  <SortableContext items={rules.map((rule) => rule.id)} strategy={verticalListSortingStrategy}>
                    <ul>
                      {rules.map((rule) => (
                        <RuleRow key={rule.id} rule={rule} flow={rule.on ? flow[rule.id] : undefined} most={most} changed={published.get(rule.id) !== JSON.stringify(rule)} focusName={fresh === rule.id} context={{ stage, words, seen }}
                          findings={draft.findings.filter((finding) => finding.rule === rule.id)} onChange={replaceRule} onDelete={() => remove(rule)} onMove={(by) => step(rule, by)} />
                      ))}
                    </ul>
                  </SortableContext>
                  {rules.length === 0 && <p className="px-5 py-2 text-soft">No rule here yet: what is not decided goes Gharry’s own way.</p>}
                </section>
              )
            })}
          </DndContext>
        </div>
      </div>
      {drawer && <SideDrawer view={data} draft={draft} words={words} seen={seen} onClose={() => setDrawer(false)} />}
      <Confirm open={publishing} title="Publish this draft?" action={errors > 0 ? 'Mend the errors first' : 'Publish'} busy={errors > 0} onClose={() => setPublishing(false)} onConfirm={() => void publish()}>
        <p>{changeCount(rulebook.rules, published)}. {trial.result && trial.result.summary.changed > 0 && `Of ${count(trial.result.summary.orders)} real orders ${count(trial.result.summary.changed)} would change, ${trial.result.summary.costDifference > 0 ? `${euros(trial.result.summary.costDifference)} dearer` : `${euros(-trial.result.summary.costDifference)} saved`}, ${count(trial.result.summary.newlyLate)} newly late. `}All waiting orders are routed again; bought labels are not touched.</p>
        {differences.length > 0 && <ul className="mt-2 max-h-56 list-disc overflow-auto pl-5" tabIndex={0} aria-label="What this edition changes">{differences.slice(0, 60).map((difference) => <li key={difference.sentence} className="py-0.5">{difference.sentence}</li>)}</ul>}
        {broken > 0 && <p className="mt-2 text-lost">{broken === 1 ? 'One pinned order comes' : `${broken} pinned orders come`} out differently. See them under Lists and editions; to publish all the same, say why in the note.</p>}
        {errors > 0 && <p className="mt-2 text-lost">{errors} {errors === 1 ? 'rule has an error' : 'errors'}: they stand in brick under the rules they are about.</p>}
        <label className="mt-3 grid gap-1"><span className="text-small text-soft">Note for the list of editions</span><input autoFocus value={note} maxLength={500} onChange={(event) => setNote(event.target.value)} className="border border-hair bg-sheet px-2 py-1" placeholder="What this edition changes, and why" /></label>
      </Confirm>
      <KeyHelp keys={[['Tab', 'next word'], ['Enter', 'open a word'], ['Delete', 'take a condition or action away'], ['Alt ↑ ↓', 'move the rule'], ['Ctrl Z', 'undo'], ['Ctrl Y', 'redo'], ['?', 'these keys']]} />
    </div>
  )
}

function changeCount(rules: readonly Rule[], published: ReadonlyMap<string, string>): string {
  const changed = rules.filter((rule) => published.has(rule.id) && published.get(rule.id) !== JSON.stringify(rule)).length
  const added = rules.filter((rule) => !published.has(rule.id)).length
  const gone = [...published.keys()].filter((id) => !rules.some((rule) => rule.id === id)).length
  const parts = [[changed, 'changed'], [added, 'added'], [gone, 'deleted']].filter(([n]) => Number(n) > 0).map(([n, what]) => `${n} ${what}`)
  return parts.length > 0 ? `Rules: ${parts.join(', ')}` : 'The order of rules or the groups change'
}
