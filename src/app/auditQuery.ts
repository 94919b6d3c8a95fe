import { z } from 'zod'

/** What is looked for in the audit, as it is in an address. */
export const auditQuery = z
  .object({
    search: z.string().max(200).optional(),
    actor: z.string().max(60).optional(),
    before: z.coerce.number().int().min(1).optional(),
  })
  .transform(({ search, actor, before }) => ({
    ...(search ? { search } : {}),
    ...(actor ? { actor } : {}),
    ...(before ? { before } : {}),
  }))
