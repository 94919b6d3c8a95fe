'use client'
import type { LogicFinding } from '@/core/rulebook/findings'
import type { Rule, Stage, Wordings } from '@/core/rulebook/language'
import type { RulebookView } from '@/usecases/rules/editRulebook'
import { WitnessDialog } from './findings/WitnessDialog'
import { MoveDialog } from './MoveDialog'
import { PublishDialog } from './PublishDialog'
import type { LiveTrial } from './trial/useTrial'
import type { DraftEditor } from './useDraft'

interface RuleDialogsProps {
  readonly view: RulebookView
  readonly draft: DraftEditor
  readonly trial: LiveTrial
  readonly words: Wordings
  readonly newGaps: Parameters<typeof PublishDialog>[0]['newGaps']
  readonly publishing: boolean
  /** The rule that goes to another stage. */
  readonly moving: Rule | null
  /** The finding whose orders are shown. */
  readonly shown: LogicFinding | null
  readonly onMoved: (rule: Rule, stage: Stage) => void
  readonly onClose: () => void
}

/** What is asked or shown over the rulebook, one at a time. */
export function RuleDialogs(props: RuleDialogsProps) {
  const { view, draft, trial, words, newGaps, publishing, moving, shown, onMoved, onClose } = props
  return (
    <>
      {publishing && <PublishDialog {...{ view, draft, newGaps, onClose }} summary={trial.result?.summary ?? null} />}
      {moving && (
        <MoveDialog
          {...{ rule: moving, draft: draft.rulebook, world: view.world, trial, onClose }}
          onMove={(stage) => {
            onMoved(moving, stage)
            onClose()
          }}
        />
      )}
      {shown && trial.material && (
        <WitnessDialog {...{ finding: shown, draft: draft.rulebook, world: trial.material.world, words, onClose }} />
      )}
    </>
  )
}
