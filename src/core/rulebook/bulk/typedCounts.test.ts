import fc from 'fast-check'
import { anyOrder, anyRulebook, testWorld } from '../language/arbitraries.test-help'
import { openCase, factById, facts } from '@/core/rulebook/language'
import { countOf, matchesOf, movedMatches, orderColumns } from './typedCounts'
import { compileRulebook } from '@/core/rulebook/compile'
import { route, settledCase } from '@/core/rulebook/decide'
import { checkRulebook } from '@/core/rulebook/findings'
import { readyWorld } from '@/core/world'

const ready = readyWorld(testWorld)
const now = Date.parse('2026-11-20T08:00:00Z')

test('counted over columns, a rule matches the orders that routing says it matches', () => {
  const imported = facts.filter((fact) => !fact.settledBy)
  fc.assert(
    fc.property(anyRulebook, fc.array(anyOrder, { minLength: 1, maxLength: 12 }), (rulebook, orders) => {
      const cases = orders.map((order) => openCase(order, ready, now))
      const columns = orderColumns(
        orders.length,
        imported.map((fact) => fact.id),
        (i, fact) => factById.get(fact)!.read(cases[i]!),
        (i) => orders[i]!.items,
        now,
        'Europe/Brussels',
      )
      for (const rule of rulebook.rules) {
        // By itself, in the first stage: there nothing is settled yet, and no other rule ends the stage before it.
        const program = compileRulebook(
          { ...rulebook, rules: [{ ...rule, stage: 'triage', on: true }] },
          testWorld.rates,
        )
        const wanted = orders.map((order) =>
          Number(route(order, program, ready, { now }).trail.stages.some((stage) => stage.stage === 'triage')),
        )
        if (
          JSON.stringify(rule.when).match(
            new RegExp(
              facts
                .filter((fact) => fact.settledBy)
                .map((fact) => `"fact":"${fact.id}"`)
                .join('|'),
            ),
          )
        )
          continue
        const mask = matchesOf(rule, rulebook, columns, testWorld.rates)
        expect([...mask]).toEqual(wanted)
        expect(countOf(mask)).toBe(wanted.reduce((sum, n) => sum + n, 0))
      }
    }),
    { numRuns: 200 },
  )
})

test('with what was decided last, it matches the orders that routing said it matched, in every stage', () => {
  let compared = 0
  fc.assert(
    fc.property(anyRulebook, fc.array(anyOrder, { minLength: 1, maxLength: 8 }), (rulebook, orders) => {
      const program = compileRulebook(rulebook, testWorld.rates)
      const routed = orders.map((order) => route(order, program, ready, { now }))
      const cases = orders.map((order, i) => settledCase(order, routed[i]!, ready, now))
      const columns = orderColumns(
        orders.length,
        facts.map((fact) => fact.id),
        (i, fact) => factById.get(fact)!.read(cases[i]!),
        (i) => orders[i]!.items,
        now,
        'Europe/Brussels',
      )
      for (const rule of rulebook.rules) {
        // Rules behind one that ended its stage were not asked; what is settled too late counts as missing.
        if (
          !rule.on ||
          checkRulebook({ ...rulebook, rules: [rule] }, testWorld).some((finding) => finding.severity === 'error')
        )
          continue
        const mask = matchesOf(rule, rulebook, columns, testWorld.rates)
        routed.forEach(({ trail }, i) => {
          const own = trail.stages.find(({ stage }) => stage === rule.stage)
          if (own?.finishedBy !== undefined && own.finishedBy !== rule.id) return
          compared++
          expect([rule.id, mask[i]]).toEqual([rule.id, Number(own?.matched.includes(rule.id) ?? false)])
        })
      }
    }),
    { numRuns: 300 },
  )
  expect(compared).toBeGreaterThan(1000)
})

test('what an edit moves', () => {
  expect(movedMatches(Uint8Array.from([1, 1, 0, 0]), Uint8Array.from([1, 0, 1, 1]))).toEqual({ gained: 2, lost: 1 })
})
