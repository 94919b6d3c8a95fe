import { showAudit } from '@/usecases/people/audit'
import { reading } from '@/app/answer'
import { auditQuery } from '@/app/auditQuery'

export const GET = reading('GET /api/people/audit', auditQuery, showAudit)
