import { z } from 'zod'
import { showSuggestions } from '@/usecases/rules/suggestRules'
import { reading } from '@/app/answer'

export const GET = reading('GET /api/rules/suggestions', z.object({}), (gharry) => showSuggestions(gharry))
