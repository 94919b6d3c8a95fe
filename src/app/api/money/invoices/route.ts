import { NextResponse, type NextRequest } from 'next/server'
import { lookAtInvoice, takeInvoice } from '@/usecases/money'
import { guarded, problem } from '../../../answer'
import { theGharry } from '../../../gharry'

/** A carrier's invoice as the bare body: looked at, or taken when the query names its number. */
export async function POST(request: NextRequest): Promise<NextResponse> {
  return guarded(async () => {
    const content = Buffer.from(await request.arrayBuffer())
    const carrier = request.nextUrl.searchParams.get('carrier') ?? ''
    const number = request.nextUrl.searchParams.get('number')
    const gharry = await theGharry()
    const answer = number === null ? await lookAtInvoice(gharry, carrier, content) : await takeInvoice(gharry, carrier, number, content)
    return answer.ok ? NextResponse.json(answer) : problem(409, answer.code, answer.sentence)
  })
}
