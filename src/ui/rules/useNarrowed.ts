import { parseAsBoolean, parseAsString, useQueryStates } from 'nuqs'
import { useDeferredValue } from 'react'
import { type Rule, type Rulebook, ruleSentence, type Wordings } from '@/core/rulebook/language'
import { aStep, typedStep } from '../kit/step'

/** The rules that a search, or the filter on findings, leaves; both are in the address. */
export function useNarrowed(rulebook: Rulebook, warned: ReadonlySet<string>, fresh: string | null, words: Wordings) {
  const [{ q: search, findings: only }, put] = useQueryStates({
    q: parseAsString.withDefault(''),
    findings: parseAsBoolean.withDefault(false),
  })
  // Typing goes before the list: hundreds of rules are found and drawn between the keys.
  const sought = useDeferredValue(search)
  const wanted = sought.trim().toLowerCase().split(/\s+/).filter(Boolean)
  const visible = (rule: Rule): boolean => {
    if (only && !warned.has(rule.id)) return false
    const text = wanted.length === 0 ? '' : `${rule.name} ${ruleSentence(rule, words)}`.toLowerCase()
    return wanted.every((word) => text.includes(word)) || fresh === rule.id
  }
  return {
    search,
    only,
    visible,
    found: rulebook.rules.filter(visible).length,
    setSearch: (text: string): void => void put({ q: text || null }, typedStep(search, text)),
    setOnly: (next: boolean): void => void put({ findings: next }, aStep),
    showAll: (): void => void put(null, aStep),
  }
}
