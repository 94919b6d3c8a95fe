import { refundFile } from '@/usecases/ledger/refunds'
import { downloading } from '@/app/fileAnswer'

export const GET = downloading('refunds', (gharry, format, query) =>
  refundFile(gharry, query.get('carrier') ?? '', format),
)
