'use client'
import { decisionById, decisionKinds, decisionPhrase, pickPhrase, stageIndex, type Action, type DecisionKind, type Stage, type Wordings } from '@/core/rulebook'
import { money, parseAmount, parseWeight } from '@/core/units'
import { Chooser, TextWord, type Choice } from './Chooser'
import { Word } from './Word'

/** The actions of a rule as words. */
export function ActionWords({ actions, stage, words, onChange }: { actions: readonly Action[]; stage: Stage; words: Wordings; onChange: (next: readonly Action[]) => void }) {
  const put = (i: number, next: Action | null): void => onChange(next === null ? actions.filter((_, other) => other !== i) : actions.map((before, other) => (other === i ? next : before)))
  const choices = decisionKinds.filter((kind) => stageIndex(kind.stage) >= stageIndex(stage)).map((kind) => ({ id: kind.id, name: kind.verb.replace(/:$/, ''), hint: kind.description }))
  return (
    <span>
      {actions.map((action, i) => {
        const kind = decisionById.get(action.set)
        return (
          <span key={i}>
            {i > 0 && <span className="text-soft">, </span>}
            <Word tone="fact" label={kind?.verb ?? `${action.set} (unknown)`} title={kind?.description} onRemove={() => put(i, null)}>
              {(close) => <Chooser label="Action" chosen={action.set} choices={choices} onChoose={(id) => { if (id !== action.set) put(i, newAction(id, words)); close() }} />}
            </Word>{' '}
            {kind && <ActionValue kind={kind} value={action.to} words={words} onSet={(to) => put(i, { set: action.set, to })} />}
          </span>
        )
      })}
      {' '}
      <Word tone="add" label={actions.length === 0 ? 'add an action' : '+'} title="Add an action">
        {(close) => <Chooser label="Add an action" choices={choices} onChoose={(id) => { onChange([...actions, newAction(id, words)]); close() }} />}
      </Word>
    </span>
  )
}

function newAction(id: string, { world }: Wordings): Action {
  const kind = decisionById.get(id)!
  const first: Readonly<Record<DecisionKind['type'], unknown>> = {
    tags: ['new tag'], text: id === 'hold' ? 'look at it first' : '{number}', grams: 50, preset: world.presets[0]?.id ?? '', location: world.locations[0]?.id ?? '', insurance: { cover: 'order value' }, 'yes/no': true,
    picks: [{ by: 'cheapest' }], services: [world.services[0]?.id ?? ''], slip: world.slips[0]?.id ?? '',
  }
  return { set: kind.id, to: first[kind.type] }
}

const named = (list: readonly { readonly id: string; readonly name: string }[]): Choice[] => list.map(({ id, name }) => ({ id, name }))

function ActionValue({ kind, value, words, onSet }: { kind: DecisionKind; value: unknown; words: Wordings; onSet: (value: unknown) => void }) {
  const label = decisionPhrase(kind.id, value, words)
  const { world } = words
  if (kind.type === 'picks') return <PickWords picks={value as readonly { by: string; service?: string }[]} words={words} onSet={onSet} />
  return (
    <Word label={label}>
      {(close) => {
        const done = (next: unknown): void => { onSet(next); close() }
        switch (kind.type) {
          case 'preset': return <Chooser label="Package preset" choices={named(world.presets)} chosen={String(value)} onChoose={done} />
          case 'location': return <Chooser label="Location" choices={named(world.locations)} chosen={String(value)} onChoose={done} />
          case 'slip': return <Chooser label="Slip template" choices={named(world.slips)} chosen={String(value)} onChoose={done} />
          case 'yes/no': return <Chooser label="Value" choices={[{ id: 'yes', name: 'yes' }, { id: 'no', name: 'no' }]} onChoose={(id) => done(id === 'yes')} />
          case 'insurance': return <Chooser free label="Amount" choices={[{ id: 'order value', name: 'the order value' }, { id: 'none', name: 'nothing' }]} onChoose={(id) => {
            const minor = parseAmount(id.replace(/\s*(€|EUR)$/i, ''), 'EUR')
            if (id === 'order value' || id === 'none') done({ cover: id })
            else if (minor !== null) done({ cover: 'amount', amount: money(minor, 'EUR') })
          }} />
          case 'grams': return <TextWord label="Grams" initial={`${String(value)} g`} hint="A weight such as 60 g, or -20 g." read={(text) => parseWeight(text) ?? undefined} onDone={done} />
          case 'tags': return <TextWord label="Tags" initial={(value as readonly string[]).join(', ')} hint="Tags with commas between them." read={(text) => { const tags = text.split(',').map((tag) => tag.trim()).filter(Boolean); return tags.length > 0 ? tags : undefined }} onDone={done} />
          case 'services': return <ServiceList value={value as readonly string[]} words={words} onSet={onSet} close={close} />
          default: return <TextWord label={kind.name} initial={String(value)} hint={kind.description} read={(text) => text.trim() || undefined} onDone={done} />
        }
      }}
    </Word>
  )
}

function ServiceList({ value, words, onSet, close }: { value: readonly string[]; words: Wordings; onSet: (value: unknown) => void; close: () => void }) {
  const choices = [...named(words.world.services), ...words.world.carriers.map(({ id, name }) => ({ id, name, hint: 'all services of the carrier' }))]
  return (
    <div>
      <ul className="flex flex-wrap gap-1 p-2 pb-0">{value.map((id) => <li key={id}><button className="bg-tint px-1.5 hover:bg-lost-soft" disabled={value.length === 1} title={value.length === 1 ? 'At least one must remain' : 'Take out'} onClick={() => onSet(value.filter((other) => other !== id))}>{choices.find((choice) => choice.id === id)?.name ?? id} ×</button></li>)}</ul>
      <Chooser key={value.length} label="Add a service or carrier" choices={choices.filter((choice) => !value.includes(choice.id))} onChoose={(id) => onSet([...value, id])} />
      <button className="w-full border-t border-hair px-2 py-1.5 text-left text-act hover:bg-act-soft" onClick={close}>Done</button>
    </div>
  )
}

function PickWords({ picks, words, onSet }: { picks: readonly { by: string; service?: string }[]; words: Wordings; onSet: (value: unknown) => void }) {
  const choices: Choice[] = [{ id: 'cheapest', name: 'the cheapest' }, { id: 'fastest', name: 'the fastest' }, { id: 'cheapest by promise', name: 'the cheapest that arrives by the promised day' }, ...words.world.services.map(({ id, name }) => ({ id: `:${id}`, name }))]
  const read = (id: string): { by: string; service?: string } => (id.startsWith(':') ? { by: 'service', service: id.slice(1) } : { by: id })
  return (
    <>
      {picks.map((pick, i) => (
        <span key={i}>
          {i > 0 && <span className="text-soft">, else </span>}
          <Word label={pickPhrase(pick, words)} onRemove={picks.length > 1 ? () => onSet(picks.filter((_, other) => other !== i)) : undefined}>
            {(close) => <Chooser label="Service" choices={choices} onChoose={(id) => { onSet(picks.map((before, other) => (other === i ? read(id) : before))); close() }} />}
          </Word>
        </span>
      ))}
      {' '}
      <Word tone="add" label="else …" title="What to take if none of these can carry it">
        {(close) => <Chooser label="Otherwise" choices={choices} onChoose={(id) => { onSet([...picks, read(id)]); close() }} />}
      </Word>
    </>
  )
}
