'use client'
import { useQuery } from '@tanstack/react-query'
import { call } from '../../kit/api'
import { amount, count, shortDay, toneOfCost } from '../../kit/format'
import { homeSign } from '../../kit/locale'

/** What each rule did to the orders of a month, against the same rulebook without it; worked out every night. */
export function RuleCosts() {
  const { data } = useQuery({ queryKey: ['report', 'rules'], queryFn: () => call('GET /api/ledger/report/rules') })
  if (!data) return null
  const { costs } = data
  const sign = homeSign()
  return (
    <section aria-label="Each rule against without it" className="mt-7">
      <h2 className="mb-1 text-lead">Each rule against without it</h2>
      {costs === null ? (
        <p className="text-soft">It is worked out once a day, after midnight; the first time is still to come.</p>
      ) : (
        <>
          <p className="mb-2 text-soft">
            {count(costs.orders)}
            {costs.available > costs.orders && ` of ${count(costs.available)}`} orders of {count(costs.days)} days, each
            decided with and without the rule by edition {costs.edition}; worked out on {shortDay(costs.day)}.
          </p>
          <table className="w-full bg-sheet">
            <thead>
              <tr className="border-y border-hair text-small text-soft">
                <th className="px-3 py-1.5">Rule</th>
                <th className="text-right">Orders it changes</th>
                <th className="text-right" title="Below zero, the rule makes labels dearer">
                  It saves, {sign}
                </th>
                <th className="text-right" title="Late because of it, less those it keeps from being late">
                  Late by it
                </th>
                <th className="px-3 text-right" title="Need a person because of it, less those it keeps from that">
                  Need a person by it
                </th>
              </tr>
            </thead>
            <tbody>
              {costs.rules.map(({ rule, name, changed, saves, late, stuck }) => (
                <tr key={rule} className="border-b border-hair/70 hover:bg-tint">
                  <td className="max-w-96 truncate px-3 py-1" title={name}>
                    <a
                      className="text-act underline decoration-hair underline-offset-4"
                      href={`/rules?q=${encodeURIComponent(name)}`}
                    >
                      {name}
                    </a>
                  </td>
                  <td className="text-right">{changed === 0 ? '–' : count(changed)}</td>
                  <td className={`text-right ${toneOfCost(-saves)}`}>{saves === 0 ? '–' : amount(saves)}</td>
                  <td className="text-right">{signed(late)}</td>
                  <td className="px-3 text-right">{signed(stuck)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </section>
  )
}

const signed = (n: number): string => (n === 0 ? '–' : `${n > 0 ? '+' : ''}${count(n)}`)
