import { z } from 'zod'
import { deskColumns, deskStates, type DeskFilter, type DeskSort } from '@/usecases/desk/showDesk'

/** Values with commas between; undefined when there are none. */
export const listIn = z
  .string()
  .optional()
  .transform((text) => (text ? text.split(',').filter(Boolean) : undefined))
const flag = z
  .literal('1')
  .optional()
  .transform((value) => value === '1' || undefined)

/** The Desk's filters and sorting as they are in an address. */
export const deskQuery = z
  .object({
    state: listIn.pipe(z.array(z.enum(deskStates)).optional()),
    channel: listIn,
    country: listIn,
    service: listIn,
    location: listIn,
    tag: listIn,
    // A comma within a reason is written as in an address.
    reason: listIn.transform((list) => list?.map((reason) => reason.replaceAll('%2C', ','))),
    late: flag,
    pinned: flag,
    flagged: flag,
    reported: flag,
    q: z.string().max(200).optional(),
    sort: listIn.pipe(
      z
        .array(z.string().regex(/^-?[a-z_]+$/))
        .max(4)
        .optional(),
    ),
    order: z.coerce.number().int().default(0),
    offset: z.coerce.number().int().min(0).default(0),
    most: z.coerce.number().int().min(1).max(500).default(100),
  })
  .transform((query) => ({
    filter: {
      states: query.state,
      channels: query.channel,
      countries: query.country,
      services: query.service,
      locations: query.location,
      tags: query.tag,
      reasons: query.reason,
      late: query.late,
      pinned: query.pinned,
      flagged: query.flagged,
      reported: query.reported,
      search: query.q,
    } satisfies DeskFilter,
    sorts: (query.sort ?? [])
      .map((text) => ({ column: text.replace('-', ''), down: text.startsWith('-') }))
      .filter((sort): sort is DeskSort => (deskColumns as readonly string[]).includes(sort.column)),
    order: query.order,
    offset: query.offset,
    most: query.most,
  }))
