'use client'
import { useState } from 'react'
import { type Finding, type LogicFinding, weightOf } from '@/core/rulebook/findings'

const mark = { error: '◆', warning: '△', note: '○' } as const
const tone = { error: 'text-lost', warning: 'text-wait', note: 'text-soft' } as const
const most = 3

/** What the check and the reasoning say of one rule; a finding with a made-up order shows it. */
export function FindingLines({
  findings,
  logic,
  onShow,
}: {
  findings: readonly Finding[]
  logic: readonly LogicFinding[]
  onShow: (finding: LogicFinding) => void
}) {
  const [all, setAll] = useState(false)
  const sorted = [...logic].sort((a, b) => {
    if (weightOf(a) === weightOf(b)) return 0
    return weightOf(a) === 'warning' ? -1 : 1
  })
  const shown = all ? sorted : sorted.slice(0, most)
  return (
    <>
      {findings.map((finding) => (
        <p key={finding.code + finding.sentence} className={`text-small ${tone[finding.severity]}`}>
          {mark[finding.severity]} {finding.sentence}
        </p>
      ))}
      {shown.map((finding) => {
        const weight = weightOf(finding)
        return (
          <p key={finding.kind + finding.sentence} className={`text-small ${tone[weight]}`}>
            {mark[weight]} {finding.sentence}
            {finding.witness && (
              <>
                {' '}
                <button
                  className="min-h-[24px] underline decoration-hair underline-offset-2 hover:text-act"
                  onClick={() => onShow(finding)}
                >
                  Show an order
                </button>
              </>
            )}
          </p>
        )
      })}
      {sorted.length > most && (
        <button
          className="min-h-[24px] text-small text-soft underline underline-offset-2 hover:text-act"
          onClick={() => setAll(!all)}
        >
          {all ? 'Fewer findings' : `${sorted.length - most} more findings`}
        </button>
      )}
    </>
  )
}
