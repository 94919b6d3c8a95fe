import { z } from 'zod'
import { cancelImport } from '@/usecases/changeChannel'
import { showImportProblems } from '@/usecases/showLine'
import { changing, reading } from '../../../../answer'
import { idIn } from '../../../../body'

export const GET = reading(z.object({}), (gharry, _query, { id }) => showImportProblems(gharry, idIn(id)))
export const DELETE = changing(z.object({}), (gharry, _body, { id }) => cancelImport(gharry, idIn(id)))
