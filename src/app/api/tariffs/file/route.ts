import { exportTariffs, previewTariffs, takeTariffs } from '@/usecases/tariffs'
import { downloading, receiving } from '../../../fileAnswer'

export const GET = downloading('tariffs', (gharry, format, query) =>
  exportTariffs(gharry, format, query.get('service') ?? ''),
)
export const POST = receiving(previewTariffs, takeTariffs)
