import { existsSync, readdirSync, readFileSync, renameSync, utimesSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { z } from 'zod'
import { s10CheckDigit } from '@/core/papers'
import { card, escapeHtml, page, table } from './html'
import { makeServer } from './server'
import { roomCards } from './channels/desk'
import { sftpServer, type SftpSettings } from './sftpServer'

const mannersShape = z.object({
  /** Whether it looks at its orders at all. */
  works: z.boolean(),
  /** Every n-th order is refused; 0: none. */
  refuses: z.number().int().min(0),
  /** Every n-th order leaves under a number of its own; 0: none. */
  ownNumbers: z.number().int().min(0),
  /** Every answer is written twice. */
  twice: z.boolean(),
})
type Manners = z.infer<typeof mannersShape>

interface Seen {
  readonly reference: string
  readonly order: string
  readonly papers: string
  answer: string
}

/** A warehouse of somebody else: it finds orders at its SFTP server, answers, counts its stock, and sends. */
export function warehouseStandIn(settings: SftpSettings) {
  const app = makeServer()
  const { files, listen, place } = sftpServer(app, settings, ['answers', 'orders', 'papers'])
  const manners: Manners = { works: true, refuses: 0, ownNumbers: 0, twice: false }
  const seen = new Map<string, Seen>()
  let answers = 0
  const answer = (content: object): void => {
    for (let times = manners.twice ? 2 : 1; times > 0; times--) {
      const name = `${String(Date.now())}-${++answers}.json`
      const file = join(files, 'answers', name)
      writeFileSync(`${file}.part`, JSON.stringify(content))
      renameSync(`${file}.part`, file)
      // As if it lay there for a while: whoever reads waits for files that may still be written.
      const at = Date.now() / 1000 - 60
      utimesSync(file, at, at)
    }
  }

  /** Looks at every order that is new, and answers it; a cancelled one is put aside. */
  function work(): void {
    if (!manners.works) return
    for (const name of readdirSync(join(files, 'orders')).filter((file) => /^H[^.]+\.(json|csv|xml)$/.test(file))) {
      const reference = name.replace(/\.[a-z]+$/, '')
      if (seen.has(reference)) continue
      const content = readFileSync(join(files, 'orders', name), 'utf8')
      const papers = ['pdf', 'zpl']
        .map((format) => `${reference}.${format}`)
        .find((file) => existsSync(join(files, 'papers', file)))
      const nth = seen.size + 1
      const is = (every: number): boolean => every > 0 && nth % every === 0
      const one: Seen = { reference, order: orderIn(content), papers: papers ?? 'missing', answer: 'acknowledged' }
      seen.set(reference, one)
      if (papers === undefined) answer({ kind: 'refused', reference, text: 'The papers are missing.' })
      else if (is(manners.refuses)) {
        one.answer = 'refused'
        answer({ kind: 'refused', reference, text: 'We have none left.' })
      } else {
        answer({ kind: 'acknowledged', reference, text: '' })
        if (is(manners.ownNumbers)) {
          one.answer = `left under CV${serial(nth)}`
          answer({ kind: 'despatched', reference, carrier: 'Corvid Post', numbers: [ownNumber(nth)] })
        }
      }
    }
  }

  app.get('/admin/manners', () => manners)
  app.post('/admin/manners', (request) => Object.assign(manners, mannersShape.partial().parse(request.body)))
  app.post('/admin/work', () => {
    work()
    return { seen: [...seen.values()] }
  })
  app.get('/admin/orders', () => [...seen.values()])
  app.post('/admin/answers', (request) => {
    answer(z.looseObject({ kind: z.string() }).parse(request.body))
    return {}
  })
  app.get('/', (_request, reply) =>
    reply.type('text/html').send(
      page(
        'A partner’s warehouse',
        card('The SFTP server', `<p>${escapeHtml(place())}</p>`) +
          card(
            'Orders',
            table(
              ['Reference', 'Order', 'Papers', 'Answer'],
              [...seen.values()].map((one) => [one.reference, one.order, one.papers, one.answer].map(escapeHtml)),
            ),
          ) +
          roomCards(files),
      ),
    ),
  )
  const timer = setInterval(work, 1000)
  timer.unref()
  app.addHook('onClose', () => clearInterval(timer))
  return { app, listen }
}

/** The order number in a document of any of the three forms, found without reading the whole of it. */
const orderIn = (content: string): string =>
  /"order": ?"([^"]+)"|<cbc:CustomerReference>([^<]+)</.exec(content)?.slice(1).find(Boolean) ??
  content.split('\n')[1]?.split(',')[1] ??
  ''

const serial = (n: number): string => String(30_000_000 + n)
/** A postal item number (UPU S10) of its own account at the post. */
function ownNumber(n: number): string {
  const digits = serial(n)
  return `CV${digits}${s10CheckDigit(digits)}GB`
}
