import { NextResponse, type NextRequest } from 'next/server'
import { guarded } from '@/app/answer'
import { theApplication } from '@/app/application'
import { bytesOf } from '@/app/body'
import { largestMessage, receiveMessage } from '@/usecases/intake/messages'

/** Where channels send their messages. The body is taken as it came: its signature is over every byte. */
export const POST = (request: NextRequest, context: { params: Promise<{ id: string }> }): Promise<NextResponse> =>
  guarded(async () => {
    const body = await bytesOf(request, largestMessage)
    const header = (name: string): string | null => request.headers.get(name)
    const { status, sentence } = await receiveMessage(await theApplication(), (await context.params).id, {
      header,
      body,
    })
    return NextResponse.json({ sentence }, { status })
  })
