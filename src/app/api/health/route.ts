import { NextResponse } from 'next/server'
import { theGharry } from '../../gharry'

/** Whether the server answers and its books can be read. */
export async function GET(): Promise<NextResponse> {
  try {
    const gharry = await theGharry()
    await gharry.db('editions').first('number')
    return NextResponse.json({ ok: true })
  } catch {
    return NextResponse.json({ ok: false, code: 'books', sentence: 'The books cannot be read: see the log.' }, { status: 503 })
  }
}
