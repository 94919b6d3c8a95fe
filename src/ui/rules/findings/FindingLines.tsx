'use client'
import { inUnits } from '../../kit/format'
import { type Finding, type LogicFinding, weightOf } from '@/core/rulebook/findings'

const mark = { error: '◆', warning: '△', note: '○' } as const
const tone = { error: 'text-lost', warning: 'text-wait', note: 'text-soft' } as const
type Weight = keyof typeof mark
const weights: readonly Weight[] = ['error', 'warning', 'note']

interface Line {
  readonly weight: Weight
  readonly sentence: string
  readonly logic?: LogicFinding
}

interface Props {
  readonly findings: readonly Finding[]
  readonly logic: readonly LogicFinding[]
  readonly onShow: (finding: LogicFinding) => void
}

/**
 * What the check and the reasoning say of one rule, the gravest first: it is beside the name, where there is room for
 * it before it comes, so that no row moves. The whole of it, and what else there is, opens below.
 */
export function FindingLine({
  findings,
  logic,
  onShow,
  open,
  onOpen,
}: Props & { open: boolean; onOpen: (open: boolean) => void }) {
  const lines = linesOf(findings, logic)
  const [first] = lines
  if (!first) return null
  return (
    <span className={`flex min-w-0 flex-1 items-center gap-2 text-small ${tone[first.weight]}`}>
      <span className="min-w-0 truncate" title={first.sentence}>
        {mark[first.weight]} {inUnits(first.sentence)}
      </span>
      {!open && <ShowOrder line={first} onShow={onShow} />}
      <button
        className="min-h-6 min-w-6 shrink-0 text-soft hover:text-act"
        aria-expanded={open}
        aria-label={open ? 'Close the findings' : 'All findings in full'}
        onClick={() => onOpen(!open)}
      >
        {!open && lines.length > 1 && `${lines.length - 1} more `}
        {open ? '▴' : '▾'}
      </button>
    </span>
  )
}

/** All findings of a rule in full. */
export function FindingLines({ findings, logic, onShow }: Props) {
  return (
    <ul aria-label="Findings">
      {linesOf(findings, logic).map((line) => (
        <li key={line.sentence} className={`text-small ${tone[line.weight]}`}>
          {mark[line.weight]} {inUnits(line.sentence)} <ShowOrder line={line} onShow={onShow} />
        </li>
      ))}
    </ul>
  )
}

function ShowOrder({ line: { logic }, onShow }: { line: Line; onShow: Props['onShow'] }) {
  if (!logic?.witness) return null
  return (
    <button
      className="min-h-6 shrink-0 underline decoration-hair underline-offset-2 hover:text-act"
      onClick={() => onShow(logic)}
    >
      Show an order
    </button>
  )
}

function linesOf(findings: readonly Finding[], logic: readonly LogicFinding[]): readonly Line[] {
  const lines: Line[] = [
    ...findings.map(({ severity, sentence }) => ({ weight: severity, sentence })),
    ...logic.map((finding) => ({ weight: weightOf(finding), sentence: finding.sentence, logic: finding })),
  ]
  return lines.sort((a, b) => weights.indexOf(a.weight) - weights.indexOf(b.weight))
}
