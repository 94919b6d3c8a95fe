import type { RefusalCode } from '@/core/rating'
import type { Routed } from '@/core/rulebook/language'

/** Why an order needs a person, in a few words that fit into a column of a list; null when it does not. */
export function reasonInBrief({ problems, trail }: Pick<Routed, 'problems' | 'trail'>): string | null {
  const [problem] = problems
  if (!problem) return null
  if (problem.code === 'no-service') return noService(trail.refusals)
  if (problem.code.startsWith('address-')) return 'Check the address'
  return briefs[problem.code] ?? problem.sentence
}

/**
 * The reason with the place that it is true of: “Leeds: nobody takes UN 1013”. Reasons that would be the same from
 * anywhere stay as they are, and so does one without a place. It still fits into its column.
 *
 * @param place the name of the location, null where there is none
 */
export function reasonFrom(reason: string, place: string | null): string {
  if (place === null) return reason
  const goods = /^(UN \d{4}): nobody takes it$/.exec(reason)?.[1]
  if (!goods && !ofThePlace.has(reason)) return reason
  // What stands in brackets behind a name says more than a column has room for.
  const short = place.replace(/ \([^)]*\)$/, '')
  return `${short}: ${goods ? `nobody takes ${goods}` : reason[0]!.toLowerCase() + reason.slice(1)}`
}

const ofThePlace: ReadonlySet<string> = new Set([
  'Nobody takes live goods',
  'No service goes there',
  'No price for this weight',
  'None is fast enough',
])

/** What a person could change goes before what the way itself rules out. */
const inOrder: readonly (readonly [RefusalCode, string])[] = [
  ['barred', 'Rules leave no service'],
  ['not-allowed', 'Rules leave no service'],
  ['switched-off', 'Switched off for now'],
  ['too-dear', 'All above the cost ceiling'],
  ['too-slow', 'None is fast enough'],
  ['late-for-channel', 'None in time for the channel'],
  ['no-cover', 'Value above every cover'],
  ['no-signature', 'None with a signature'],
  ['no-offer', 'None offers what is needed'],
  ['unprotected', 'None that the channel protects'],
  ['unknown-carrier', 'No carrier the channel knows'],
  ['collects-less', 'None collects so much'],
  ['post-office-box', 'None to a PO box'],
  ['too-many', 'Too many parcels'],
  ['too-voluminous', 'Too big for any service'],
  ['too-big', 'Too big for any service'],
  ['too-long', 'Too long for any service'],
  ['too-heavy', 'Too heavy for any service'],
  ['no-band', 'No price for this weight'],
  ['no-price', 'No price'],
  ['no-rate', 'No exchange rate'],
  ['no-tariff', 'No tariff for this day'],
  ['never-collects', 'No collection days'],
  ['domestic-only', 'No service goes there'],
  ['not-covered', 'No service goes there'],
  ['location', 'None collects here'],
]

function noService(refusals: Routed['trail']['refusals']): string {
  // Goods that nobody takes are the reason, whatever else keeps a service from it.
  const goods = refusals.find(({ code }) => code === 'dangerous-goods')
  const un = goods && /UN \d{4}/.exec(goods.sentence)?.[0]
  if (un) return `${un}: nobody takes it`
  for (const [code, brief] of inOrder) {
    const refusal = refusals.find((candidate) => candidate.code === code)
    if (refusal) return code === 'no-offer' ? (offers[refusal.sentence] ?? brief) : brief
  }
  return 'No service'
}

const offers: Readonly<Record<string, string>> = {
  'does not take live goods': 'Nobody takes live goods',
  'does not collect cash on delivery': 'Nobody collects cash',
  'does not pay duties': 'Nobody pays the duties',
  'does not offer tracking': 'None with tracking',
  'does not offer return label': 'None with a return label',
}

const briefs: Readonly<Record<string, string>> = {
  'no-weight': 'A weight is missing',
  'no-items': 'No items',
  'bad-quantity': 'Check the quantity',
  'bad-amount': 'Check the amounts',
  'bad-promise': 'Check the promised day',
  'no-time': 'Check the order time',
  'same-id': 'The same number twice',
  'unknown-country': 'Unknown country',
  'unknown-currency': 'Unknown currency',
  'unknown-value': 'Value unknown',
  'no-street': 'No street',
  'no-city': 'No town',
  'no-preset': 'No package fits',
  'too-full': 'Does not fit its package',
  'unknown-preset': 'Package preset is gone',
  'too-many-parcels': 'Too many parcels',
  'unknown-location': 'Location is gone',
  'no-rate': 'No exchange rate',
  'nothing-allowed': 'Rules leave no service',
  'no-pick': 'Wanted service is out',
  'no-customs-data': 'Customs data missing',
  'unknown-slip': 'Slip template is gone',
  'no-return-label': 'No return label',
}
