import { NextResponse } from 'next/server'
import { z } from 'zod'
import { mostTableBytes } from '@/adapters'
import { lookAtInvoice, takeInvoice, takeInvoiceBack } from '@/usecases/money'
import { changing, problem } from '../../../answer'
import { bytesOf } from '../../../body'
import { fileRoute } from '../../../fileAnswer'
import { theGharry } from '../../../gharry'

/** A carrier's invoice as the bare body: looked at, or taken when the query names its number. */
export const POST = fileRoute(async (request) => {
  const content = await bytesOf(request, mostTableBytes)
  const carrier = request.nextUrl.searchParams.get('carrier') ?? ''
  const number = request.nextUrl.searchParams.get('number')
  const gharry = await theGharry()
  const answer =
    number === null
      ? await lookAtInvoice(gharry, carrier, content)
      : await takeInvoice(gharry, carrier, number, content)
  return answer.ok ? NextResponse.json(answer) : problem(409, answer.code, answer.sentence)
})

const takenBack = changing(z.object({ invoice: z.int() }), (gharry, { invoice }) => takeInvoiceBack(gharry, invoice))

/** Takes an invoice back that was taken by mistake. */
export const DELETE = fileRoute((request) => takenBack(request, { params: Promise.resolve({}) }))
