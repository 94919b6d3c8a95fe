'use client'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { parseAsBoolean, parseAsStringLiteral, useQueryState } from 'nuqs'
import { useEffect, useMemo, useRef, useState } from 'react'
import { type LogicFinding, weightOf } from '@/core/rulebook/findings'
import { equalJson, type Rule } from '@/core/rulebook/language'
import type { RulebookView } from '@/usecases/rules/editRulebook'
import { call } from '../kit/api'
import { notation } from '../kit/locale'
import type { Choice } from './Chooser'
import { useFindings } from './findings/useFindings'
import { Rerouting } from './Rerouting'
import { RuleDialogs } from './RuleDialogs'
import { RuleList } from './RuleList'
import { DraftProblem, Narrowed, RulesHead } from './RulesHead'
import { ListsPage } from './lists/ListsPage'
import { listParts } from './lists/listParts'
import { EffectOf } from './trial/Effect'
import { TrialPanel } from './trial/TrialPanel'
import { TrialStrip } from './trial/TrialStrip'
import { useTrial } from './trial/useTrial'
import { useTyping } from './typing/useTyping'
import { Trying } from './trying'
import { useDraft } from './useDraft'
import { useNarrowed } from './useNarrowed'
import { useRules } from './useRules'
import { useRulesKeys } from './useRulesKeys'
import { aStep } from '../kit/step'

const nothing: readonly never[] = []

/** The rulebook as it is written: sentences, what they do to real orders, and what they mean together. */
export function Rules({ initial, seen }: { initial: RulebookView; seen: Readonly<Record<string, readonly Choice[]>> }) {
  const client = useQueryClient()
  const { data } = useQuery({
    queryKey: ['rulebook'],
    queryFn: () => call('GET /api/rules/rulebook'),
    initialData: initial,
    refetchInterval: 3000,
  })
  const draft = useDraft(initial.draft, initial.revision, initial.findings)
  const { work, fresh, tried, attempt, drop } = useRules(draft)
  const [publishing, setPublishing] = useState(false)
  const [part, setPart] = useQueryState('lists', parseAsStringLiteral(listParts).withOptions(aStep))
  const [looking, setLooking] = useQueryState('trial', parseAsBoolean.withDefault(false))
  const [shown, setShown] = useState<LogicFinding | null>(null)
  const [moving, setMoving] = useState<Rule | null>(null)
  const [since] = useState(() => new Date().toISOString())
  const field = useRef<HTMLInputElement>(null)
  useRulesKeys(draft, field)
  const { rulebook } = draft
  const trial = useTrial(rulebook, data.inForce?.number ?? 0)
  const counts = useTyping(tried ?? rulebook, data.inForce?.rulebook, data.world.rates)
  const reasoning = useFindings(rulebook, data.world, trial.material)
  const { preview, previewed, failed } = trial
  useEffect(() => preview(tried), [preview, tried])
  const trying = useMemo(
    () => ({ attempt, drop, effect: tried && <EffectOf what="this" summary={previewed} failed={failed} /> }),
    [attempt, drop, tried, previewed, failed],
  )
  const words = useMemo(
    () => ({
      world: data.world,
      groups: rulebook.groups,
      conditions: rulebook.conditions ?? [],
      channels: data.channels,
      notation: notation(),
    }),
    [data.world, data.channels, rulebook.groups, rulebook.conditions],
  )
  const services = useMemo(
    () => Object.fromEntries(data.world.services.map(({ id, name }) => [id, name])),
    [data.world],
  )
  const published = useMemo(
    () => new Map((data.inForce?.rulebook.rules ?? []).map((rule) => [rule.id, rule])),
    [data.inForce],
  )
  const differs = useMemo(() => !equalJson(rulebook, data.inForce?.rulebook), [rulebook, data.inForce])
  // The counts of the draft as it is typed; until they are there, those of the edition in force.
  const flow = trial.result?.flow ?? data.flow?.counts ?? {}
  const warned = new Set([
    ...draft.findings.map((finding) => finding.rule),
    ...(reasoning?.findings ?? []).filter((finding) => weightOf(finding) === 'warning').map((finding) => finding.rule),
  ])
  // Without a rule there is nothing to look for.
  const isChecked = [reasoning, draft.findings.length > 0, rulebook.rules.length === 0].some(Boolean)
  const { search, setSearch, only, setOnly, visible, found, showAll } = useNarrowed(rulebook, warned, fresh, words)
  return (
    <div className="flex h-full">
      <div className="flex min-w-0 flex-1 flex-col">
        <RulesHead
          view={data}
          draft={draft}
          search={search}
          field={field}
          onSearch={setSearch}
          warned={isChecked ? warned.size : null}
          only={only}
          onOnly={setOnly}
          lists={part !== null}
          onLists={(open) => void setPart(open ? 'editions' : null)}
          differs={differs}
          onPublish={() => {
            void client.invalidateQueries({ queryKey: ['rulebook'] })
            setPublishing(true)
          }}
        />
        {data.inForce && (
          <TrialStrip
            trial={trial}
            edition={data.inForce.number}
            open={looking}
            onOpen={() => void setLooking(!looking)}
          />
        )}
        <Rerouting since={since} services={services} />
        {looking && trial.result && (
          <TrialPanel
            result={trial.result}
            channels={data.channels}
            services={services}
            onClose={() => void setLooking(false)}
          />
        )}
        <DraftProblem draft={draft} view={data} />
        {part ? (
          <ListsPage
            view={data}
            draft={draft}
            words={words}
            seen={seen}
            part={part}
            onPart={(next) => void setPart(next)}
          />
        ) : (
          <>
            <Narrowed found={found} of={rulebook.rules.length} search={search.trim()} only={only} onAll={showAll} />
            <div
              className={`min-h-0 overflow-auto pb-10 ${looking ? 'flex-[0.6]' : 'flex-1'}`}
              data-scroller
              tabIndex={0}
              role="region"
              aria-label="The rulebook"
            >
              <Trying value={trying}>
                <RuleList
                  rulebook={rulebook}
                  visible={visible}
                  flow={flow}
                  counts={counts}
                  published={published}
                  findings={draft.findings}
                  logic={reasoning?.findings ?? nothing}
                  words={words}
                  seen={seen}
                  work={work}
                  fresh={fresh}
                  trial={trial}
                  onShow={setShown}
                  onMoveStage={setMoving}
                />
              </Trying>
            </div>
          </>
        )}
      </div>
      <RuleDialogs
        {...{ view: data, draft, trial, words, publishing, moving, shown }}
        newGaps={reasoning?.newGaps ?? nothing}
        onMoved={(rule, stage) => work.moveTo(rule, stage)}
        onClose={() => {
          setPublishing(false)
          setMoving(null)
          setShown(null)
        }}
      />
    </div>
  )
}
