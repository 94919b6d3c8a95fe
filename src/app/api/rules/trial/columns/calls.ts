import { gzip } from 'node:zlib'
import { promisify } from 'node:util'
import { NextResponse } from 'next/server'
import { showColumns } from '@/usecases/rules/showColumns'
import { guarded } from '@/app/answer'
import { theApplication } from '@/app/application'

const pressed = promisify(gzip)

/** The columns of the last 30 days' orders, binary (see ColumnsHead) and pressed; the browser unpacks them itself. */
export async function GET(): Promise<NextResponse> {
  return guarded(async () => {
    const bytes = await pressed(await showColumns(await theApplication()), { level: 4 })
    return new NextResponse(new Uint8Array(bytes), {
      headers: { 'content-type': 'application/gzip', 'cache-control': 'no-store' },
    })
  })
}
