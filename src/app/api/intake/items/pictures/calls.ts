import { NextResponse } from 'next/server'
import { problem } from '@/app/answer'
import { theApplication } from '@/app/application'
import { bytesOf } from '@/app/body'
import { fileAnswer, fileRoute } from '@/app/fileAnswer'
import { maxItemPictureBytes, showItemPicture, takeItemPicture } from '@/usecases/intake/itemPictures'

const nameIn = (url: URL): string => (url.searchParams.get('name') ?? '').slice(0, 300)

export const GET = fileRoute(async (request) => {
  const content = await showItemPicture(await theApplication(), nameIn(request.nextUrl))
  if (!content) return problem(404, 'not-found', 'There is no picture of it.')
  return new NextResponse(new Uint8Array(content), {
    // Its address changes with it.
    headers: { 'content-type': 'image/webp', 'cache-control': 'private, max-age=604800, immutable' },
  })
})

export const PUT = fileRoute(async (request) =>
  fileAnswer(
    await takeItemPicture(await theApplication(), nameIn(request.nextUrl), await bytesOf(request, maxItemPictureBytes)),
  ),
)
