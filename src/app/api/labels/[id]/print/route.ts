import { printLabel } from '@/usecases/printBatch'
import { theGharry } from '../../../../gharry'
import { pdfAnswer } from '../../../../pdfAnswer'

export async function GET(_request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const { id } = await params
  return pdfAnswer(await printLabel(await theGharry(), Number(id)), `label-${Number(id)}`)
}
