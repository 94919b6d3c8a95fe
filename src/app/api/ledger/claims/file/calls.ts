import { claimFile } from '@/usecases/ledger/claims'
import { downloading } from '@/app/fileAnswer'

export const GET = downloading('claims', (gharry, format, query) =>
  claimFile(gharry, query.get('carrier') ?? '', format),
)
