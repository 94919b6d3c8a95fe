import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { chromium, type Page } from '@playwright/test'
import { build } from 'esbuild'
import type { Rulebook } from '@/core/rulebook/language'
import { worldOfNames } from '@/usecases/rules/editRulebook'
import type { FindingsAnswer, FindingsOrder } from '../src/ui/rules/findings/findings.worker'
import { demoRulebook } from '../demo/rulebook'
import { demoWorld } from '../demo/world'
import { realisticRulebook } from './realistic'

const now = Date.parse('2026-11-25T09:00:00Z')
const edits = 15

/**
 * Findings where they are worked out: in the page's web worker, for a rulebook of which one rule after another is
 * edited.
 */
export async function benchFindings(say: (line: string) => void): Promise<void> {
  const { outputFiles } = await build({
    entryPoints: ['src/ui/rules/findings/findings.worker.ts'],
    bundle: true,
    minify: true,
    write: false,
    platform: 'browser',
    format: 'iife',
  })
  const server = createServer(({ url }, response) => {
    response.setHeader('content-type', url === '/worker.js' ? 'text/javascript' : 'text/html')
    response.end(url === '/worker.js' ? outputFiles[0]!.text : '<!doctype html>')
  }).listen(0, '127.0.0.1')
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] })
  try {
    for (const count of [demoRulebook.rules.length, 300, 1000]) {
      const page = await browser.newPage()
      await page.goto(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`)
      const book = realisticRulebook(count)
      const answers: Found[] = []
      const { ms: rehearsed } = await findIn(page, {
        run: 0,
        draft: book,
        world: worldOfNames(demoWorld),
        inForce: book,
        now,
      })
      for (let edit = 0; edit <= edits; edit++)
        answers.push(
          await findIn(page, { run: edit + 1, draft: edited(book, edit), world: demoWorld, inForce: book, now }),
        )
      const [first, ...later] = answers.map(({ ms }) => ms)
      const sorted = later.sort((a, b) => a - b)
      say(
        `findings, ${count} rules, in a web worker: ${first!.toFixed(0)} ms when the page opens, after a rehearsal of ${rehearsed.toFixed(0)} ms while the orders are fetched; after each of ${edits} edits ${sorted[Math.floor(edits / 2)]!.toFixed(0)} ms (median; ${sorted[0]!.toFixed(0)} to ${sorted[edits - 1]!.toFixed(0)}); ${answers[0]!.findings} findings`,
      )
      await page.close()
    }
  } finally {
    await browser.close()
    server.close()
  }
}

/** The rulebook as it is after so many edits: each switches another rule off. */
const edited = (book: Rulebook, edits: number): Rulebook => ({
  ...book,
  rules: book.rules.map((rule, at) => (at > 0 && at === edits ? { ...rule, on: false } : rule)),
})

interface Found {
  readonly ms: number
  readonly findings: number
}

const findIn = (page: Page, order: FindingsOrder): Promise<Found> =>
  page.evaluate(
    (asked) =>
      new Promise<Found>((resolve) => {
        const own = window as unknown as { worker?: Worker }
        own.worker ??= new Worker('/worker.js')
        own.worker.onmessage = ({ data }: MessageEvent<FindingsAnswer>) =>
          resolve({ ms: data.ms, findings: data.findings.length })
        own.worker.postMessage(asked)
      }),
    order,
  )
