import { z } from 'zod'
import { type BoardFilter, boardNeeds, boardSorts } from '@/usecases/tracking/showBoard'
import { listIn } from './deskQuery'

/** The board's filters as they are in an address. */
const filters = z.object({
  need: z.enum(boardNeeds).optional(),
  status: listIn,
  carrier: listIn,
  service: listIn,
  location: listIn,
  country: listIn,
  q: z.string().max(100).optional(),
})
const filterOf = ({ need, status, carrier, service, location, country, q }: z.output<typeof filters>): BoardFilter => ({
  ...{
    need,
    statuses: status,
    carriers: carrier,
    services: service,
    locations: location,
    countries: country,
    search: q,
  },
})

export const boardFilter = filters.transform(filterOf)

/** The board's filters, its sorting, and which page. */
export const boardQuery = filters
  .extend({
    sort: z
      .string()
      .regex(/^-?[A-Za-z]+$/)
      .default('due'),
    offset: z.coerce.number().int().min(0).default(0),
    most: z.coerce.number().int().min(1).max(500).default(100),
  })
  .transform(({ sort, offset, most, ...rest }) => {
    const column = boardSorts.find((one) => one === sort.replace('-', '')) ?? 'due'
    return { filter: filterOf(rest), sort: { column, down: sort.startsWith('-') }, offset, most }
  })
