import { NextResponse } from 'next/server'
import { openingProblem, theApplication } from '@/app/application'

/** Whether the server answers and its books can be read; if not, why. */
export async function GET(): Promise<NextResponse> {
  try {
    const gharry = await theApplication()
    await gharry.db('editions').first('number')
    return NextResponse.json({ ok: true })
  } catch {
    return NextResponse.json(
      {
        ok: false,
        code: 'books',
        sentence: `The books cannot be read. ${openingProblem() ?? 'See the log.'} It is tried again at the next call.`,
      },
      { status: 503 },
    )
  }
}
