import { formatLength, formatWeight } from '@/core/units'
import type { Service } from '@/core/rating'
import {
  type Condition,
  isItemSum,
  isItemTest,
  isSaved,
  isTest,
  type ListEntry,
  type Rule,
  type Rulebook,
  type Test,
} from '@/core/rulebook/language'
import type { World } from '@/core/world'

/** A service that a rule chooses although none of its orders can go with it, in words. */
export interface Unreachable {
  readonly service: string
  readonly sentence: string
}

/**
 * Services that the rule names and that can never take one of its orders: no tariff, no location, or what the rule
 * demands of every order (its tests that stand by themselves or under *all of*) is beyond the service. Never a false
 * one: what cannot be told from such tests alone is left unsaid.
 */
export function unreachableServices(rule: Rule, rulebook: Rulebook, world: World): Unreachable[] {
  const named = new Set(
    rule.then.flatMap(({ set, to }) =>
      set === 'picks' && Array.isArray(to)
        ? (to as readonly { by: string; service?: string }[]).flatMap((pick) =>
            pick.by === 'service' && pick.service ? [pick.service] : [],
          )
        : [],
    ),
  )
  if (named.size === 0) return []
  const demanded = demandedTests(rule.when, rulebook)
  return world.services
    .filter(({ id }) => named.has(id))
    .flatMap((service) => {
      const why = whyNever(service, demanded, rulebook, world)
      return why === null
        ? []
        : [{ service: service.id, sentence: `${service.name} can never take one of its orders: ${why}.` }]
    })
}

/** Tests that hold for every order that the condition lets through. */
function demandedTests(condition: Condition, rulebook: Rulebook, depth = 0): Test[] {
  if (depth > 50 || isItemTest(condition) || isItemSum(condition)) return []
  if (isSaved(condition)) {
    const saved = rulebook.conditions?.find(({ id }) => id === condition.saved)
    return saved ? demandedTests(saved.when, rulebook, depth + 1) : []
  }
  if (isTest(condition)) return [condition]
  if ('all' in condition) return condition.all.flatMap((member) => demandedTests(member, rulebook, depth + 1))
  return 'any' in condition && condition.any.length === 1 ? demandedTests(condition.any[0]!, rulebook, depth + 1) : []
}

function whyNever(service: Service, tests: readonly Test[], rulebook: Rulebook, world: World): string | null {
  // A world that was cut down for a screen has neither zones nor tariffs; nothing follows from that.
  if (service.zones.length === 0 || world.tariffs.length === 0) return null
  if (!world.tariffs.some((tariff) => tariff.service === service.id)) return 'it has no tariff'
  if (service.locations.length === 0) return 'it collects nowhere'
  for (const test of tests) {
    const why = beyond(service, test, rulebook)
    if (why !== null) return why
  }
  return null
}

function beyond({ zones, limits, locations }: Service, test: Test, rulebook: Rulebook): string | null {
  const least = leastOf(test)
  switch (test.fact) {
    case 'country': {
      const wanted = valuesOf(test, rulebook)
      return wanted !== null && wanted.length > 0 && !zones.some(({ to }) => wanted.includes(to))
        ? `it goes to none of ${wanted.slice(0, 6).join(', ')}`
        : null
    }
    case 'location': {
      const wanted = valuesOf(test, rulebook)
      return wanted !== null &&
        wanted.length > 0 &&
        !locations.some((location) => wanted.includes(location.toUpperCase()))
        ? `it does not collect in ${wanted.slice(0, 6).join(', ').toLowerCase()}`
        : null
    }
    case 'post-office box':
      return test.op === 'is' && test.value === true && !limits.postOfficeBox
        ? 'it does not deliver to post-office boxes'
        : null
    case 'parcel weight':
      return least !== null && least > limits.weight
        ? `it takes ${formatWeight(limits.weight)}, the rule begins at ${formatWeight(least)}`
        : null
    case 'longest side':
      return least !== null && least > limits.longestSide
        ? `it takes sides up to ${formatLength(limits.longestSide)}, the rule begins at ${formatLength(least)}`
        : null
    case 'girth':
      return least !== null && least > limits.girth
        ? `it takes ${formatLength(limits.girth)} length plus girth, the rule begins at ${formatLength(least)}`
        : null
    case 'parcels':
      return least !== null && limits.parcels !== undefined && least > limits.parcels
        ? `it takes ${limits.parcels} in a shipment, the rule begins at ${least}`
        : null
    default:
      return null
  }
}

/** The least number that a test lets through; null when there is none. */
function leastOf({ op, value }: Test): number | null {
  const first = Array.isArray(value) ? (value as readonly unknown[])[0] : value
  if (typeof first !== 'number') return null
  if (op === '>') return first + 1
  return op === '≥' || op === '=' || op === 'between' ? first : null
}

/** The values that a test lets through, groups spelt out; null when it does not name them. */
function valuesOf({ op, value }: Test, rulebook: Rulebook): string[] | null {
  if (op === 'is') return typeof value === 'string' ? [value.toUpperCase()] : null
  if (op !== 'is one of' || !Array.isArray(value)) return null
  return (value as readonly ListEntry[])
    .flatMap((entry) =>
      typeof entry === 'string' ? [entry] : (rulebook.groups.find(({ id }) => id === entry.group)?.members ?? []),
    )
    .map((member) => member.toUpperCase())
}
