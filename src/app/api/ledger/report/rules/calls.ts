import { z } from 'zod'
import { showRuleCosts } from '@/usecases/rules/ruleCosts'
import { reading } from '@/app/answer'

export const GET = reading('GET /api/ledger/report/rules', z.object({}), (gharry) => showRuleCosts(gharry))
