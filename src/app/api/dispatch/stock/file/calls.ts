import { maxTableBytes } from '@/adapters'
import { exportStock, previewStock, takeStockFile } from '@/usecases/dispatch/stock/stockFile'
import { theApplication } from '@/app/application'
import { bytesOf } from '@/app/body'
import { downloading, fileAnswer, fileRoute } from '@/app/fileAnswer'

export const GET = downloading('stock', exportStock)

/** A file of counts, looked at, and taken. */
export const POST = fileRoute(async (request) =>
  fileAnswer(await previewStock(await theApplication(), await bytesOf(request, maxTableBytes))),
)
export const PUT = fileRoute(async (request) =>
  fileAnswer(await takeStockFile(await theApplication(), await bytesOf(request, maxTableBytes))),
)
