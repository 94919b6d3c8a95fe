import { NextResponse } from 'next/server'
import { largestFile, receiveFile } from '@/usecases/importFile'
import { problem } from '../../../answer'
import { chunksOf } from '../../../body'
import { fileRoute } from '../../../fileAnswer'
import { theGharry } from '../../../gharry'

/** Takes a file as the bare body and answers what its columns seem to mean. */
export const POST = fileRoute(async (request) => {
  if (!request.body) return problem(400, 'empty-file', 'The file is empty.')
  const answer = await receiveFile(await theGharry(), chunksOf(request, largestFile))
  return answer.ok ? NextResponse.json(answer) : problem(409, answer.code, answer.sentence)
})
