import type { FastifyInstance } from 'fastify'
import { openBooks, type Books } from '../books'
import { withFaults } from '../faults'
import { card, page, table } from '../html'
import { makeServer } from '../server'
import { makePrepaid, withBalance } from './balance'
import { withBuying } from './buying'
import { makeClock, withClock } from './clock'
import { withCollections } from './collections'
import { withFreightDocuments } from './freight'
import type { CarrierLabel } from './label'
import { withLabels } from './labels'
import { withManifests } from './manifests'
import type { CarrierSettings, Office } from './office'
import { withReturns } from './returns'
import { withEvents } from './travel'

/** A carrier: sells labels by its own tariff, voids them, and reports parcels by a clock that can be set. */
export function carrierStandIn(settings: CarrierSettings): { app: FastifyInstance; books: Books } {
  const app = makeServer()
  const books = openBooks(settings.file)
  const { hits } = withFaults(app, settings.name)
  const office: Office = { app, books, settings, hits, clock: makeClock(books), prepaid: makePrepaid(books) }
  app.addHook('onRequest', async (request, reply) => {
    if (request.url.startsWith('/api/') && request.headers.authorization !== `Bearer ${settings.token}`)
      return reply.code(401).send({ message: 'The token is wrong.' })
  })
  app.get('/api/services', () => ({
    services: settings.services.map((service) => ({ ...service, locations: [], collections: undefined })),
    tariffs: settings.tariffs.filter(({ service }) => settings.services.some(({ id }) => id === service)),
  }))
  withBuying(office)
  withLabels(office)
  withBalance(app, books, office.prepaid, office.clock.now)
  withEvents(office)
  withReturns(office)
  withManifests(app, books, office.clock.now)
  withCollections(office)
  withFreightDocuments(app, settings.token)
  withClock(app, office.clock)
  app.get('/', (_request, reply) => reply.type('text/html').send(page(settings.name, counter(office))))
  app.addHook('onClose', () => books.close())
  return { app, books }
}

/** The carrier's page: its clock, and the labels that it sold last. */
function counter({ books, clock }: Office): string {
  const rows = books
    .newest<CarrierLabel>('label', 50)
    .map(({ document }) => [
      document.parcels.map((parcel) => parcel.trackingNumber).join(' '),
      document.service,
      document.reference,
      `${(document.charged.minor / 100).toFixed(2)} ${document.charged.currency}`,
      document.state,
    ])
  return (
    card(
      'Clock',
      `<p id="clock">${clock.now()} · ${clock.speed()} times as fast</p><form method="post" action="/admin/clock" style="display:inline"><input type="hidden" name="days" value="1"><button>Next day</button></form> <form method="post" action="/admin/clock" style="display:inline"><label style="display:inline">Speed <input name="speed" type="number" min="0" value="${clock.speed()}"></label> <button>Set</button></form>`,
    ) +
    card(`Labels (${books.count('label')})`, table(['Number', 'Service', 'Reference', 'Charged', 'State'], rows)) +
    '<nav><a href="/admin">Switches and read-out</a></nav>'
  )
}
