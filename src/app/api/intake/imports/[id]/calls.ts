import { z } from 'zod'
import { cancelImport } from '@/usecases/intake/changeChannel'
import { showImportProblems } from '@/usecases/intake/showIntake'
import { changing, reading } from '@/app/answer'
import { idIn } from '@/app/body'

export const GET = reading('GET /api/intake/imports/:id', z.object({}), (gharry, _query, { id }) =>
  showImportProblems(gharry, idIn(id)),
)
export const DELETE = changing('DELETE /api/intake/imports/:id', z.object({}), (gharry, _body, { id }) =>
  cancelImport(gharry, idIn(id)),
)
