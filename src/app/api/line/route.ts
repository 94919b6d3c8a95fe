import { z } from 'zod'
import { showLine } from '@/usecases/showLine'
import { reading } from '../../answer'

export const GET = reading(z.object({}), (gharry) => showLine(gharry))
