'use client'
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react'
import { useMemo } from 'react'
import { compileRulebook } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import type { LogicFinding } from '@/core/rulebook/findings'
import { decisionById, decisionPhrase, type Rulebook, stages, type Wordings } from '@/core/rulebook/language'
import { readyWorld, type World } from '@/core/world'
import { Button } from '../../kit/Button'
import { homeMoney, moneyText, shortDay, weightText, inUnits } from '../../kit/format'

/** The made-up order of a finding, decided by the draft as it is now. */
export function WitnessDialog({
  finding,
  draft,
  world,
  words,
  onClose,
}: {
  finding: LogicFinding
  draft: Rulebook
  world: World
  words: Wordings
  onClose: () => void
}) {
  const witness = finding.witness!
  const routed = useMemo(
    () => route(witness.order, compileRulebook(draft, world.rates), readyWorld(world), { now: witness.now }),
    [witness, draft, world],
  )
  const name = (id: string): string => draft.rules.find((rule) => rule.id === id)?.name ?? id
  const { order } = witness
  const facts: [string, string][] = [
    [
      'to',
      [order.shipTo.company, ...order.shipTo.lines, order.shipTo.postcode, order.shipTo.city, order.shipTo.country]
        .filter(Boolean)
        .join(', '),
    ],
    ['channel, wording', [order.channel, order.wording && `“${order.wording}”`].filter(Boolean).join(', ')],
    ['value', moneyText(order.value)],
    [
      'placed, decided',
      `${order.placedAt.slice(0, 16).replace('T', ' ')}, ${new Date(witness.now).toISOString().slice(0, 16).replace('T', ' ')}`,
    ],
    ['buyer', order.buyer.returning ? 'returning' : 'new'],
    ...(order.promisedBy ? [['promised', order.promisedBy] as [string, string]] : []),
    ...order.items.map((item, i): [string, string] => [
      i === 0 ? 'items' : '',
      `${item.quantity} × ${item.sku || 'an item without SKU'}${item.unitWeight === null ? ', no weight' : `, ${weightText(item.unitWeight)}`}${item.tags.length > 0 ? `, tags ${item.tags.join(', ')}` : ''}${item.dangerousGoods ? `, ${item.dangerousGoods}` : ''}`,
    ]),
  ]
  return (
    <Dialog open onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 bg-ink/30" aria-hidden />
      <div className="fixed inset-0 grid place-items-center p-6">
        <DialogPanel className="flex max-h-full w-[52rem] max-w-full flex-col bg-sheet shadow-xl">
          <header className="flex items-baseline gap-3 border-b border-hair px-5 py-3">
            <DialogTitle className="text-lead">A made-up order that shows it</DialogTitle>
            <span className="ml-auto">
              <Button kind="quiet" onClick={onClose}>
                Close
              </Button>
            </span>
          </header>
          <div className="overflow-auto px-5 py-3" tabIndex={0} role="region" aria-label="Made-up order">
            <p className="pb-2">
              “{name(finding.rule)}”: {finding.sentence}
            </p>
            <div className="grid grid-cols-2 gap-6">
              <section>
                <h3 className="border-b border-hair pb-1 text-small text-soft">The order</h3>
                <table className="w-full">
                  <tbody>
                    {facts.map(([label, value], i) => (
                      <tr key={i} className="border-b border-hair/60 align-top">
                        <th scope="row" className="w-32 py-1 font-normal text-soft">
                          {label}
                        </th>
                        <td className="py-1">{value}</td>
                      </tr>
                    ))}
                  </tbody>
                </table>
                <h3 className="mt-3 border-b border-hair pb-1 text-small text-soft">Rules that match</h3>
                {stages.map((stage) => {
                  const trail = routed.trail.stages.find((candidate) => candidate.stage === stage)
                  return trail ? (
                    <p key={stage} className="py-0.5">
                      <span className="text-soft capitalize">{stage}</span>{' '}
                      {trail.matched.map((id, i) => (
                        <span key={id}>
                          {i > 0 && ', '}
                          <span className={id === finding.rule ? 'font-semibold' : ''}>{name(id)}</span>
                        </span>
                      ))}
                      {trail.finishedBy && <span className="text-soft"> (ends the stage)</span>}
                    </p>
                  ) : null
                })}
              </section>
              <section>
                <h3 className="border-b border-hair pb-1 text-small text-soft">What the draft decides</h3>
                {routed.trail.decisions.map((entry) => (
                  <div key={entry.decision} className="border-b border-hair/60 py-1">
                    <p>
                      <span className="text-soft">{decisionById.get(entry.decision)?.name}</span>{' '}
                      {decisionPhrase(entry.decision, entry.value, words)}
                    </p>
                    <p className="text-small text-soft">
                      {entry.by.kind === 'rule'
                        ? name(entry.by.rule)
                        : entry.parts.map((part) => name(part.rule)).join(', ') ||
                          (entry.by.kind === 'wording table' ? `wording table, “${entry.by.wording}”` : 'no rule')}
                    </p>
                    {entry.others.map((other) => (
                      <p key={other.rule} className="text-small text-soft">
                        <span className="line-through">{decisionPhrase(entry.decision, other.value, words)}</span>{' '}
                        wanted by {name(other.rule)}, but {other.why}
                      </p>
                    ))}
                  </div>
                ))}
                <p className="py-1">
                  {routed.quote ? (
                    <>
                      {world.services.find(({ id }) => id === routed.quote!.service)?.name},{' '}
                      {homeMoney(routed.quote.cost)}, arrives {shortDay(routed.quote.arrivesOn)}
                    </>
                  ) : (
                    <span className="text-wait">
                      {inUnits(routed.problems.map((problem) => problem.sentence).join(' '))}
                    </span>
                  )}
                </p>
              </section>
            </div>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  )
}
