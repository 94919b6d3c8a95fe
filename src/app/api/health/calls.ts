import { NextResponse } from 'next/server'
import { briefHealth } from '@/usecases/health/showHealth'
import { openingProblem, theApplication } from '@/app/application'

/**
 * Whether the server answers and its books can be read; if not, why. It says when nothing is changed, and whether a
 * worker runs.
 */
export async function GET(): Promise<NextResponse> {
  try {
    const gharry = await theApplication()
    return NextResponse.json({ ok: true, ...(await briefHealth(gharry)) })
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
