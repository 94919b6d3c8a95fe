'use client'
import { useEffect, useMemo, useState } from 'react'
import { checkRulebook } from '@/core/rulebook/findings'
import { type Rule, type Rulebook, type Stage, stages, withRuleIn } from '@/core/rulebook/language'
import type { World } from '@/core/world'
import { Confirm } from '../kit/Confirm'
import { Select } from '../kit/Field'
import { EffectOf } from './trial/Effect'
import type { LiveTrial } from './trial/useTrial'

/** Moves a rule to another stage; what the move would change is shown first. */
export function MoveDialog({
  rule,
  draft,
  world,
  trial: { preview, previewed, failed },
  onMove,
  onClose,
}: {
  rule: Rule
  draft: Rulebook
  world: World
  trial: LiveTrial
  onMove: (stage: Stage) => void
  onClose: () => void
}) {
  const others = stages.filter((stage) => stage !== rule.stage)
  const [stage, setStage] = useState<Stage>(others[0]!)
  const moved = useMemo(() => withRuleIn(draft, rule.id, stage), [draft, rule.id, stage])
  const wrong = useMemo(
    () => checkRulebook(moved, world).filter((finding) => finding.rule === rule.id && finding.severity === 'error'),
    [moved, world, rule.id],
  )
  useEffect(() => {
    preview(moved)
    return () => preview(null)
  }, [moved, preview])
  return (
    <Confirm
      open
      title={`Move “${rule.name}” to another stage`}
      action={`Move to ${stage}`}
      onClose={onClose}
      onConfirm={() => onMove(stage)}
    >
      <label className="flex items-center gap-2">
        It goes to{' '}
        <Select autoFocus value={stage} onChange={(event) => setStage(event.target.value as Stage)}>
          {others.map((other) => (
            <option key={other} value={other}>
              {other}
            </option>
          ))}
        </Select>
      </label>
      <p className="mt-3" role="status">
        <EffectOf what="the move" summary={previewed} failed={failed} />
      </p>
      {wrong.map((finding) => (
        <p key={finding.sentence} className="mt-1 text-lost">
          ◆ {finding.sentence}
        </p>
      ))}
    </Confirm>
  )
}
