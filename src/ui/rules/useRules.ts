'use client'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import {
  copyRules,
  pasteRules,
  type Rule,
  type Stage,
  withNewRule,
  withRuleIn,
  withRulePlaced,
} from '@/core/rulebook/language'
import { useSay } from '../kit/Toast'
import { useAttempts, type Attempts } from './trying'
import type { DraftEditor } from './useDraft'

/** The name of a rule that nobody has named yet. */
export const newName = 'New rule'

/** It stays the same from one change to the next: a row is drawn again only when its rule changes. */
export interface RuleWork {
  readonly add: (stage: Stage) => void
  readonly replace: (next: Rule) => void
  readonly remove: (rule: Rule) => void
  readonly place: (id: string, over: string) => void
  readonly step: (rule: Rule, by: -1 | 1) => void
  readonly moveTo: (rule: Rule, stage: Stage) => void
  readonly duplicate: (rule: Rule) => void
  readonly copy: (rule: Rule) => void
  readonly pasteBehind: (rule: Rule) => void
}

export interface Rules extends Omit<Attempts, 'replace'> {
  readonly work: RuleWork
  /** The rule that was made last; its name wants the focus. */
  readonly fresh: string | null
}

const newId = (): string => `r-${crypto.randomUUID().slice(0, 8)}`

/** Everything that can be done with whole rules of the draft; Ctrl C and Ctrl V work on the rule that has the focus. */
export function useRules(draft: DraftEditor): Rules {
  const say = useSay()
  const [fresh, setFresh] = useState<string | null>(null)
  const { rulebook, change, undo } = draft

  const { replace, attempt, drop, tried } = useAttempts(rulebook, change)
  const now = useRef(rulebook)
  useEffect(() => {
    now.current = rulebook
  }, [rulebook])
  const paste = useCallback(
    (text: string, stage: Stage, behind: string | null): void => {
      const pasted = pasteRules(now.current, text, stage, behind, newId)
      if (!pasted.ok)
        return say(`What is in the clipboard is no rule. ${pasted.problems[0]?.sentence ?? ''}`, { tone: 'bad' })
      change(() => pasted.rulebook)
      setFresh(pasted.ids[0] ?? null)
      say(`Pasted ${pasted.ids.length === 1 ? 'a rule' : `${pasted.ids.length} rules`} into ${stage}`, { undo })
    },
    [change, say, undo],
  )
  useEffect(() => {
    const focused = (): Rule | undefined => {
      const row = document.activeElement?.closest<HTMLElement>('[data-rule]')
      return rulebook.rules.find((rule) => rule.id === row?.dataset.rule)
    }
    const typing = (): boolean =>
      /^(INPUT|TEXTAREA|SELECT)$/.test(document.activeElement?.tagName ?? '') &&
      (document.activeElement as HTMLInputElement).type !== 'checkbox'
    const copied = (event: ClipboardEvent): void => {
      const rule = focused()
      if (!rule || typing() || (window.getSelection()?.toString() ?? '') !== '') return
      event.preventDefault()
      event.clipboardData?.setData('text/plain', copyRules(rulebook, [rule.id]))
      say(`Copied “${rule.name}” as text`)
    }
    const pasted = (event: ClipboardEvent): void => {
      const rule = focused()
      const text = event.clipboardData?.getData('text/plain') ?? ''
      if (!rule || typing() || text === '') return
      event.preventDefault()
      paste(text, rule.stage, rule.id)
    }
    document.addEventListener('copy', copied)
    document.addEventListener('paste', pasted)
    return () => {
      document.removeEventListener('copy', copied)
      document.removeEventListener('paste', pasted)
    }
  })

  const work = useMemo((): RuleWork => {
    const setRules = (next: (rules: readonly Rule[]) => readonly Rule[]): void =>
      change((before) => ({ ...before, rules: next(before.rules) }))
    return {
      add: (stage) => {
        const rule: Rule = { id: newId(), stage, name: newName, on: true, when: { all: [] }, then: [] }
        setFresh(rule.id)
        change((before) => withNewRule(before, rule))
      },
      replace,
      remove: (rule) => {
        setRules((rules) => rules.filter((other) => other.id !== rule.id))
        say(`Deleted “${rule.name}”`, { undo })
      },
      place: (id, over) => change((before) => withRulePlaced(before, id, over)),
      step: (rule, by) => {
        const peers = now.current.rules.filter((other) => other.stage === rule.stage)
        const neighbour = peers[peers.findIndex((other) => other.id === rule.id) + by]
        if (neighbour) change((before) => withRulePlaced(before, rule.id, neighbour.id))
      },
      moveTo: (rule, stage) => {
        change((before) => withRuleIn(before, rule.id, stage))
        say(`Moved “${rule.name}” to ${stage}`, { undo })
      },
      duplicate: (rule) => paste(copyRules(now.current, [rule.id]), rule.stage, rule.id),
      copy: (rule) =>
        void navigator.clipboard.writeText(copyRules(now.current, [rule.id])).then(
          () => say(`Copied “${rule.name}” as text`),
          () =>
            say('The browser does not let Gharry use the clipboard: put the focus on the rule and press Ctrl C.', {
              tone: 'bad',
            }),
        ),
      pasteBehind: (rule) =>
        void navigator.clipboard.readText().then(
          (text) => paste(text, rule.stage, rule.id),
          () =>
            say('The browser does not let Gharry read the clipboard: put the focus on the rule and press Ctrl V.', {
              tone: 'bad',
            }),
        ),
    }
  }, [change, paste, replace, say, undo])
  return { work, fresh, attempt, drop, tried }
}
