import { Readable } from 'node:stream'
import { stringify } from 'csv-stringify'
import type { NextRequest } from 'next/server'
import { trialColumns, trialRow } from '@/core/rulebook/change'
import { allTrialChanges } from '@/usecases/rules/runTrial'
import { theApplication } from '@/app/application'
import { idIn } from '@/app/body'

/** All changed orders of a trial as a CSV file, streamed. */
export async function GET(_request: NextRequest, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const { id } = await params
  const rows = allTrialChanges(await theApplication(), idIn(id))
  const lines = Readable.from(
    (async function* () {
      for await (const change of rows) yield trialRow(change)
    })(),
  ).pipe(stringify({ header: true, columns: [...trialColumns], escape_formulas: true, record_delimiter: 'windows' }))
  return new Response(Readable.toWeb(lines) as ReadableStream, {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': 'attachment; filename="trial.csv"',
      'cache-control': 'no-store',
    },
  })
}
