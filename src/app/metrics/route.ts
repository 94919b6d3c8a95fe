import { createHash, timingSafeEqual } from 'node:crypto'
import type { NextRequest } from 'next/server'
import { metricsText } from '@/usecases/health/metrics'
import { guarded, problem } from '@/app/answer'
import { theApplication } from '@/app/application'

const hashed = (text: string): Buffer => createHash('sha256').update(text).digest()

/** Figures for Prometheus, for whoever knows GHARRY_METRICS_TOKEN; without one there are none. */
export const GET = (request: NextRequest): Promise<Response> =>
  guarded(async () => {
    const token = process.env.GHARRY_METRICS_TOKEN ?? ''
    if (token === '') return problem(404, 'not-found', 'Figures are not switched on: see GHARRY_METRICS_TOKEN.')
    const given = request.headers.get('authorization') ?? ''
    if (!timingSafeEqual(hashed(given), hashed(`Bearer ${token}`)))
      return problem(401, 'signed-out', 'Give the token of GHARRY_METRICS_TOKEN as a bearer token.')
    const { type, text } = await metricsText(await theApplication())
    return new Response(text, { headers: { 'content-type': type } })
  })
