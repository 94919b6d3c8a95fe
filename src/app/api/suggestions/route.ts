import { z } from 'zod'
import { showSuggestions } from '@/usecases/suggestRules'
import { reading } from '../../answer'

export const GET = reading(z.object({}), (gharry) => showSuggestions(gharry))
