import { z } from 'zod'
import { groupKinds, type Condition, operators, type Rulebook, stages } from './rulebook'
import { pickSchema, speeds } from '@/core/rating'
import { noticeSteps } from '@/core/telling'
import { addressKinds, needs, priorities, splits } from './decisionKinds'
import { weekdays } from './moments'

const day = z.iso.date('is no date: write YYYY-MM-DD')
const moneyValue = z.strictObject({ minor: z.int(), currency: z.string().regex(/^[A-Z]{3}$/, 'is no currency code') })
/** An amount that somebody pays or is paid: never below nothing. */
const amountValue = z.strictObject({
  minor: z.int().min(0, 'is below 0').max(1_000_000_000_000),
  currency: z.string().regex(/^[A-Z]{3}$/, 'is no currency code'),
})
const listEntry = z.union([z.string().max(200), z.strictObject({ group: z.string() })])
const span = z.union([
  z.strictObject({ hours: z.number().positive().max(100_000) }),
  z.strictObject({ days: z.number().positive().max(5000) }),
])
const value = z.union([
  span,
  z.string().max(500),
  z.number(),
  z.boolean(),
  moneyValue,
  z.tuple([z.number(), z.number()]),
  z.tuple([moneyValue, moneyValue]),
  z.array(listEntry).max(50_000),
])

const condition: z.ZodType<Condition> = z.lazy(() =>
  z.union([
    // The most frequent first: a union is tried from the top.
    z.strictObject({ fact: z.string(), op: z.enum(operators), value: value.optional() }),
    z.strictObject({ all: z.array(condition) }),
    z.strictObject({ any: z.array(condition) }),
    z.strictObject({ none: z.array(condition) }),
    z.strictObject({ items: z.enum(['any', 'every', 'no']), where: condition }),
    z.strictObject({ saved: z.string() }),
    z.strictObject({
      sum: z.enum(['lines', 'quantity', 'value', 'weight']),
      where: condition,
      op: z.enum(operators),
      value,
    }),
  ]),
) as z.ZodType<Condition>

const rule = z.strictObject({
  id: z.string().min(1).max(64),
  stage: z.enum(stages),
  name: z.string().trim().min(1, 'needs a name').max(120),
  on: z.boolean(),
  from: day.optional(),
  until: day.optional(),
  finishStage: z.boolean().optional(),
  when: condition,
  then: z.array(z.strictObject({ set: z.string(), to: z.unknown() })).max(50),
})

/** The shape of a rulebook; what it means is checked by checkRulebook. */
export const rulebookSchema = z.strictObject({
  name: z.string().min(1).max(120),
  groups: z.array(
    z.strictObject({
      id: z.string().min(1).max(64),
      name: z.string().min(1).max(120),
      kind: z.enum(groupKinds).optional(),
      members: z.array(z.string().max(200)).max(50_000),
    }),
  ),
  conditions: z
    .array(z.strictObject({ id: z.string().min(1).max(64), name: z.string().min(1).max(120), when: condition }))
    .max(2000)
    .optional(),
  rules: z.array(rule).max(20_000),
}) as unknown as z.ZodType<Rulebook>

const side = z.int('is no whole number of millimetres').positive().max(20_000)
const holdUntil = z.union([
  z.strictObject({ weekday: z.enum(weekdays) }),
  z.strictObject({ day }),
  z.strictObject({ hours: z.number().positive().max(10_000) }),
  z.strictObject({ days: z.number().positive().max(400) }),
])

/** What each type of decision takes as its value, in rules and in hand pins. */
export const decisionValues = {
  tags: z.array(z.string().trim().min(1).max(60)).min(1, 'needs at least one tag'),
  text: z.string().trim().min(1, 'needs a text').max(200),
  hold: z.union([
    z.string().trim().min(1, 'needs a reason').max(200),
    z.strictObject({ reason: z.string().trim().min(1, 'needs a reason').max(200), until: holdUntil }),
  ]),
  'ship day': holdUntil,
  speed: z.enum(speeds),
  priority: z.enum(priorities),
  size: z.tuple([side, side, side]),
  inserts: z
    .array(
      z.strictObject({ name: z.string().trim().min(1, 'needs a name').max(80), weight: z.int().min(0).max(100_000) }),
    )
    .min(1, 'needs at least one thing')
    .max(20),
  'item tags': z.array(z.string().trim().min(1).max(60)).min(1, 'needs at least one tag'),
  limits: z
    .strictObject({
      weight: z.int().positive().optional(),
      longestSide: side.optional(),
      pieces: z.int().positive().optional(),
    })
    .refine((limits) => Object.keys(limits).length > 0, 'needs a weight, a length or a number of pieces'),
  slips: z.array(z.string().min(1)).min(1, 'needs at least one template').max(10),
  split: z.enum(splits),
  'address kind': z.enum(addressKinds),
  duties: z.enum(['DAP', 'DDP']),
  needs: z.array(z.enum(needs)).min(1, 'needs at least one thing'),
  days: z.int('is no whole number of days').min(0).max(365),
  money: amountValue,
  moment: z.enum(['bought', 'dispatched']),
  grams: z.int('is no whole number of grams').min(-1_000_000).max(1_000_000),
  preset: z.string().min(1, 'needs a preset'),
  location: z.string().min(1, 'needs a location'),
  insurance: z.union([
    z.strictObject({ cover: z.enum(['order value', 'none']) }),
    z.strictObject({ cover: z.literal('amount'), amount: amountValue }),
  ]),
  'yes/no': z.boolean(),
  picks: z.array(pickSchema).min(1, 'needs at least one pick'),
  services: z.array(z.string()).min(1, 'needs at least one service'),
  slip: z.string().min(1, 'needs a slip template'),
  partner: z.string().min(1, 'needs a partner'),
  steps: z.array(z.enum(noticeSteps)).min(1, 'needs at least one step'),
} as const
