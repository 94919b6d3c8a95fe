'use client'
import { useSortable } from '@dnd-kit/sortable'
import { Menu, MenuButton, MenuItem, MenuItems, Popover, PopoverButton, PopoverPanel } from '@headlessui/react'
import { Ellipsis, GripVertical, Trash2 } from 'lucide-react'
import { memo, useEffect, useRef, useState, type KeyboardEvent } from 'react'
import type { Finding, LogicFinding } from '@/core/rulebook/findings'
import { actionPhrase, type Condition, conditionPhrase, type Rule, type Wordings } from '@/core/rulebook/language'
import { Button } from '../kit/Button'
import { count } from '../kit/format'
import { ActionWords } from './ActionWords'
import { ConditionWords, type SentenceContext } from './ConditionWords'
import { FindingLine, FindingLines } from './findings/FindingLines'
import { useNear } from './near'
import type { RuleCount } from './typing/typing.worker'
import { Writing } from './Word'
import { newName, type RuleWork } from './useRules'

export interface Flow {
  readonly came: number
  readonly matched: number
  readonly decided: number
}

interface RowProps {
  readonly rule: Rule
  readonly flow: Flow | undefined
  readonly count: RuleCount | undefined
  readonly findings: readonly Finding[]
  readonly logic: readonly LogicFinding[]
  readonly context: SentenceContext
  /** How many orders came to the rule to which most came. */
  readonly most: number
  /** Against the edition in force. */
  readonly changed: 'new' | 'changed' | ''
  readonly focusName: boolean
  /** Among the first, which are drawn before anybody knows what is in view. */
  readonly early: boolean
  readonly work: RuleWork
  readonly onShow: (finding: LogicFinding) => void
  readonly onMoveStage: (rule: Rule) => void
}

/** One rule as a sentence, with its flow before it and its findings under it. Far from view it is its heading alone. */
export const RuleRow = memo(function RuleRow(props: RowProps) {
  const { rule, work } = props
  const element = useRef<HTMLLIElement>(null)
  const { near, height } = useNear(element, props.early || props.focusName)
  const keys = (event: KeyboardEvent): void => {
    if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
      event.preventDefault()
      work.step(rule, event.key === 'ArrowUp' ? -1 : 1)
    }
  }
  return (
    <li
      ref={element}
      onKeyDown={keys}
      data-rule={rule.id}
      aria-labelledby={`name-${rule.id}`}
      className="group"
      style={near ? undefined : { minHeight: height }}
    >
      <h3 id={`name-${rule.id}`} className="sr-only">
        {rule.name}
      </h3>
      {near && <MovableRow {...props} />}
    </li>
  )
})

/** Where it can be dragged. */
function MovableRow(props: RowProps) {
  const { rule } = props
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: rule.id })
  return (
    <div
      ref={setNodeRef}
      style={{ transform: transform ? `translateY(${transform.y}px)` : undefined, transition }}
      className={`relative grid grid-cols-[22px_172px_1fr_auto] items-start gap-x-2 border-b border-hair px-3 py-1.5 ${isDragging ? 'z-20 shadow-lg' : ''} ${rule.on ? 'bg-sheet' : 'bg-paper line-through decoration-soft/60'}`}
    >
      <button
        {...attributes}
        {...listeners}
        aria-label={`Move ${rule.name}`}
        title="Drag, or Space and arrows; Alt with an arrow moves at once"
        className="mt-0.5 cursor-grab text-soft hover:text-act"
      >
        <GripVertical className="size-4" />
      </button>
      <RuleBody {...props} />
    </div>
  )
}

/** Drawn anew only when something of the rule changes; its row, whenever any rule is dragged. */
const RuleBody = memo(function RuleBody({
  rule,
  flow,
  count: counted,
  findings,
  logic,
  context,
  most,
  changed,
  focusName,
  work,
  onShow,
  onMoveStage,
}: RowProps) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <div>
        <FlowGutter flow={flow} most={most} on={rule.on} />
        {counted && <Typed counted={counted} />}
      </div>
      <div className="min-w-0">
        <p className="flex min-w-0 items-center gap-2">
          <NameField
            name={rule.name}
            focus={focusName}
            empty={rule.then.length === 0}
            onChange={(name) => work.replace({ ...rule, name })}
          />
          {changed !== '' && <span className="text-small text-wait">{changed}</span>}
          {rule.finishStage && <span className="text-small text-soft">then the stage ends</span>}
          {(rule.from || rule.until) && (
            <span className="text-small text-soft">
              {rule.from && `from ${rule.from}`} {rule.until && `until ${rule.until}`}
            </span>
          )}
          <FindingLine findings={findings} logic={logic} onShow={onShow} open={open} onOpen={setOpen} />
        </p>
        {/* Below the buttons on the right there is room to the edge; so far below that a finger tells them apart. */}
        <div className="-mr-52 mt-0.5">
          <RuleSentence rule={rule} context={context} onChange={work.replace} />
          {open && <FindingLines findings={findings} logic={logic} onShow={onShow} />}
        </div>
      </div>
      <RuleButtons rule={rule} work={work} onMoveStage={onMoveStage} />
    </>
  )
})

// Apart from the counts and findings, which come and go while the sentence stays as it is.
const RuleSentence = memo(function RuleSentence({
  rule,
  context,
  onChange,
}: {
  rule: Rule
  context: SentenceContext
  onChange: (next: Rule) => void
}) {
  const when: Condition =
    'all' in rule.when || 'any' in rule.when || 'none' in rule.when ? rule.when : { all: [rule.when] }
  const everyOrder = 'all' in when && when.all.length === 0
  return (
    <p data-sentence className="leading-[1.75]">
      <span className="text-soft">{everyOrder ? 'For every order' : 'When'}</span>{' '}
      <Writing value={rule.then.length === 0}>
        <ConditionWords
          top
          condition={when}
          context={context}
          onChange={(next) => onChange({ ...rule, when: next ?? { all: [] } })}
        />
      </Writing>
      <span className="text-soft"> then </span>
      <ActionWords
        actions={rule.then}
        stage={rule.stage}
        words={context.words}
        onChange={(then) => onChange(named({ ...rule, then }, context.words))}
      />
    </p>
  )
})

/** A rule that nobody has named yet is called after what it does, as long as that is a name's length. */
function named(rule: Rule, words: Wordings): Rule {
  if (rule.name !== newName || rule.then.length === 0) return rule
  const said = rule.then.map((action) => actionPhrase(action, words)).join(', ')
  const when = conditionPhrase(rule.when, words)
  const name = when === '' ? said : `${said} when ${when}`
  return { ...rule, name: capital(name.length > 60 ? `${name.slice(0, 59).trimEnd()}…` : name) }
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)

// What every row repeats is shown where somebody looks: under the mouse, and where the focus is.
const onLooking =
  'opacity-0 group-hover:opacity-100 group-focus-within:opacity-100 pointer-coarse:opacity-100 transition-opacity motion-reduce:transition-none'

const RuleButtons = memo(function RuleButtons({
  rule,
  work,
  onMoveStage,
}: {
  rule: Rule
  work: RuleWork
  onMoveStage: (rule: Rule) => void
}) {
  const onChange = work.replace
  return (
    <div className="flex items-center gap-2">
      <RuleDates rule={rule} onChange={onChange} />
      <label className={`flex items-center gap-1 text-small text-soft ${rule.finishStage ? '' : onLooking}`}>
        <input
          type="checkbox"
          checked={rule.finishStage === true}
          onChange={(event) => onChange(withFinish(rule, event.target.checked))}
          className="accent-(--act)"
        />{' '}
        ends stage
      </label>
      <label className={`flex items-center gap-1 text-small text-soft ${rule.on ? onLooking : ''}`}>
        <input
          type="checkbox"
          role="switch"
          aria-label={`${rule.name} is on`}
          checked={rule.on}
          onChange={(event) => onChange({ ...rule, on: event.target.checked })}
          className="accent-(--act)"
        />{' '}
        on
      </label>
      <span className={`flex items-center gap-2 ${onLooking}`}>
        <RuleMenu rule={rule} work={work} onMoveStage={() => onMoveStage(rule)} />
        <button
          aria-label={`Delete ${rule.name}`}
          className="grid size-[24px] place-items-center text-soft hover:text-lost"
          onClick={() => work.remove(rule)}
        >
          <Trash2 className="size-4" />
        </button>
      </span>
    </div>
  )
})

/** What can be done with the whole rule. */
function RuleMenu({ rule, work, onMoveStage }: { rule: Rule; work: RuleWork; onMoveStage: () => void }) {
  const entries: [string, () => void][] = [
    ['Move to another stage …', onMoveStage],
    ['Duplicate', () => work.duplicate(rule)],
    ['Copy as text', () => work.copy(rule)],
    ['Paste behind it', () => work.pasteBehind(rule)],
  ]
  return (
    <Menu>
      <MenuButton
        aria-label={`More for ${rule.name}`}
        className="grid size-[24px] place-items-center text-soft hover:text-act"
      >
        <Ellipsis className="size-4" />
      </MenuButton>
      <MenuItems anchor="bottom end" className="z-30 min-w-44 border border-hair bg-sheet py-1 shadow-xl outline-none">
        {entries.map(([label, run]) => (
          <MenuItem key={label}>
            <button onClick={run} className="block w-full px-3 py-1 text-left data-focus:bg-act-soft">
              {label}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  )
}

function withFinish(rule: Rule, finish: boolean): Rule {
  const { finishStage: _before, ...rest } = rule
  return finish ? { ...rest, finishStage: true } : rest
}

function NameField({
  name,
  focus,
  empty,
  onChange,
}: {
  name: string
  focus: boolean
  empty: boolean
  onChange: (name: string) => void
}) {
  const [text, setText] = useState(name)
  const field = useRef<HTMLInputElement>(null)
  useEffect(() => setText(name), [name])
  useEffect(() => {
    if (!focus) return
    field.current?.select()
    // The sentence is written next: it is below the name, and Enter goes on to it.
    field.current?.closest('li')?.scrollIntoView({ block: 'center' })
  }, [focus])
  const take = (): void => {
    if (text.trim() === '') setText(name)
    else if (text.trim() !== name) onChange(text.trim())
  }
  /** On to the sentence; in a new rule, which is empty, its first word opens, and it is typed on. */
  const goOn = (event: KeyboardEvent<HTMLInputElement>): void => {
    if (event.key === 'Escape') setText(name)
    if (event.key !== 'Enter') return
    event.preventDefault()
    const word = event.currentTarget.closest('li')?.querySelector<HTMLElement>('[data-sentence] button')
    word?.focus()
    if (focus && empty) word?.click()
  }
  return (
    <input
      ref={field}
      aria-label="Name of the rule"
      value={text}
      maxLength={120}
      size={Math.max(8, text.length + 1)}
      onChange={(event) => setText(event.target.value)}
      onBlur={take}
      onKeyDown={goOn}
      className="h-[24px] max-w-full bg-transparent text-small font-semibold hover:bg-tint"
    />
  )
}

type Dates = Pick<Rule, 'from' | 'until'>

function RuleDates({ rule, onChange }: { rule: Rule; onChange: (next: Rule) => void }) {
  const take = ({ from, until }: Dates): void => {
    const { from: _from, until: _until, ...rest } = rule
    onChange({ ...rest, ...(from ? { from } : {}), ...(until ? { until } : {}) })
  }
  return (
    <Popover
      className={`relative text-small text-soft ${rule.from || rule.until ? '' : `${onLooking} data-open:opacity-100`}`}
    >
      <PopoverButton className="min-h-6 hover:text-act">dates</PopoverButton>
      <PopoverPanel
        focus
        anchor="bottom end"
        className="z-30 mt-1 border border-hair bg-sheet p-3 text-small text-soft shadow-xl"
      >
        {({ close }) => <DatesForm from={rule.from} until={rule.until} onTake={take} close={close} />}
      </PopoverPanel>
    </Popover>
  )
}

/** From and until; taken by Enter, or when one goes elsewhere, but not by Escape. */
function DatesForm({
  from,
  until,
  onTake,
  close,
}: {
  from: string | undefined
  until: string | undefined
  onTake: (dates: Dates) => void
  close: () => void
}) {
  const [dates, setDates] = useState({ from: from ?? '', until: until ?? '' })
  const leaves = useRef(false)
  const take = (): void => {
    if (!leaves.current && (dates.from !== (from ?? '') || dates.until !== (until ?? ''))) onTake(dates)
  }
  return (
    <form
      className="grid gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        take()
        leaves.current = true
        close()
      }}
      onKeyDown={(event) => {
        leaves.current = event.key === 'Escape'
      }}
      onBlur={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget)) take()
      }}
    >
      {(['from', 'until'] as const).map((key) => (
        <label key={key} className="grid gap-0.5">
          {key}{' '}
          <input
            type="date"
            value={dates[key]}
            onChange={(event) => setDates({ ...dates, [key]: event.target.value })}
            className="border border-hair bg-sheet px-1"
          />
        </label>
      ))}
      <Button type="submit">Set</Button>
    </form>
  )
}

/** What a rule being written matches of all orders of the month, and how that differs from the edition in force. */
function Typed({ counted: { matches, gained, lost, of } }: { counted: RuleCount }) {
  return (
    <p
      className="text-small leading-tight"
      title={`Of all ${count(of)} orders of the last 30 days, as they were decided last: ${count(gained)} more and ${count(lost)} fewer than by the edition in force`}
    >
      typed: <b>{count(matches)}</b> of {count(of)}
      {gained > 0 && <span className="text-done"> +{count(gained)}</span>}
      {lost > 0 && <span className="text-lost"> −{count(lost)}</span>}
    </p>
  )
}

/** How many orders of the last 30 days came to the rule, matched it, and were decided by it. */
function FlowGutter({ flow, most, on }: { flow: Flow | undefined; most: number; on: boolean }) {
  if (!flow) return <span className="pt-1 text-small text-soft">{on ? 'not counted yet' : 'off'}</span>
  const share = (n: number): string => `${most > 0 ? Math.max(n > 0 ? 2 : 0, (100 * n) / most) : 0}%`
  return (
    <div
      className="pt-0.5 text-small leading-tight text-soft"
      title={`Last 30 days: ${flow.came} orders came here, ${flow.matched} matched, ${flow.decided} were decided by it`}
    >
      <div data-flow className="relative h-3.5 bg-tint" aria-hidden>
        <span className="absolute inset-y-0 left-0 bg-hair" style={{ width: share(flow.came) }} />
        <span className="absolute inset-y-0 left-0 bg-act/45" style={{ width: share(flow.matched) }} />
        <span className="absolute inset-y-0 left-0 bg-done-mark" style={{ width: share(flow.decided) }} />
      </div>
      <span className={flow.matched === 0 ? 'text-wait' : ''}>
        {count(flow.matched)} match, {count(flow.decided)} decided
      </span>
    </div>
  )
}
