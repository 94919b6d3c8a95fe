import { exportTariffs, previewTariffs, takeTariffs } from '@/usecases/ledger/tariffs'
import { downloading, receiving } from '@/app/fileAnswer'

export const GET = downloading('tariffs', (gharry, format, query) =>
  exportTariffs(gharry, format, query.get('service') ?? ''),
)
const files = receiving(['POST /api/ledger/tariffs/file', 'PUT /api/ledger/tariffs/file'], previewTariffs, takeTariffs)
export const { POST, PUT } = files
