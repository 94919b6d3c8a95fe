import { auditFile } from '@/usecases/people/audit'
import { auditQuery } from '@/app/auditQuery'
import { downloading } from '@/app/fileAnswer'

export const GET = downloading('audit', async (gharry, format, asked) => {
  const query = auditQuery.safeParse(Object.fromEntries(asked))
  return query.success ? auditFile(gharry, format, query.data) : null
})
