import type { NextRequest } from 'next/server'
import { z } from 'zod'
import { maxTableBytes } from '@/adapters'
import { lookAtInvoice, takeInvoice, takeInvoiceBack } from '@/usecases/ledger/invoices'
import { changing } from '@/app/answer'
import { bytesOf } from '@/app/body'
import { fileAnswer, fileRoute } from '@/app/fileAnswer'
import { theApplication } from '@/app/application'

const carrierIn = (request: NextRequest): string => request.nextUrl.searchParams.get('carrier') ?? ''

/** Looks at a carrier's invoice, which is the bare body. */
export const POST = fileRoute(async (request) => {
  const content = await bytesOf(request, maxTableBytes)
  return fileAnswer(await lookAtInvoice(await theApplication(), carrierIn(request), content))
})

/** Takes it, under its number. */
export const PUT = fileRoute(async (request) => {
  const content = await bytesOf(request, maxTableBytes)
  const number = request.nextUrl.searchParams.get('number') ?? ''
  return fileAnswer(await takeInvoice(await theApplication(), carrierIn(request), number, content))
})

const takenBack = changing(
  'DELETE /api/ledger/balance/invoices',
  z.object({ invoice: z.int() }),
  (gharry, { invoice }) => takeInvoiceBack(gharry, invoice),
)

/** Takes an invoice back that was taken by mistake. */
export const DELETE = fileRoute((request) => takenBack(request, { params: Promise.resolve({}) }))
