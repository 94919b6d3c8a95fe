import { leftRows } from '@/usecases/intake/importFile'
import { idIn } from '@/app/body'
import { downloading } from '@/app/fileAnswer'

export const GET = downloading('rows-not-taken', (gharry, _format, query) =>
  leftRows(gharry, idIn(query.get('id') ?? undefined)),
)
