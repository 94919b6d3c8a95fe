import type { Knex } from 'knex'

interface OldService {
  readonly [key: string]: unknown
  readonly id: string
  readonly bands?: Record<string, unknown[]>
  readonly dimensionalDivisor: number | null
  readonly fuelPermille: number
  readonly signatureFee: number | null
  readonly tracked: boolean
  readonly offers?: string[]
  readonly cover: { included: number; upTo: number; perHundred: number }
}

/**
 * Shipments of several parcels, and prices apart from services. What is in the books already is brought into the new
 * form.
 */
export async function parcels(db: Knex): Promise<void> {
  await db.schema.createTable('label_parcels', (t) => {
    t.integer('label_id').notNullable().references('labels.id')
    /** 1 is the first. */
    t.integer('position').notNullable()
    t.text('preset').notNullable()
    t.integer('weight').notNullable()
    t.text('size').notNullable()
    t.text('contents').notNullable()
    t.text('tracking_number')
    t.text('symbology')
    t.text('routing')
    t.text('status')
    t.primary(['label_id', 'position'])
    t.index(['tracking_number'])
  })
  await db.schema.alterTable('orders', (t) => t.integer('parcels').notNullable().defaultTo(1))
  await db.schema.alterTable('posts', (t) => t.integer('parcel').notNullable().defaultTo(1))
  await convertWorlds(db)
  await convertOutcomes(db)
  await convertLabels(db)
}

async function convertWorlds(db: Knex): Promise<void> {
  for (const { version, content } of (await db('worlds').select('version', 'content')) as {
    version: number
    content: string
  }[]) {
    const world = JSON.parse(content) as { services: OldService[]; tariffs?: unknown[] }
    if (world.tariffs) continue
    const tariffs = world.services.map((service) => ({
      service: service.id,
      from: '2020-01-01',
      until: null,
      currency: 'EUR',
      basis: 'parcel',
      dimensionalDivisor: service.dimensionalDivisor,
      roundUpTo: 1,
      discountPermille: 0,
      zones: Object.fromEntries(Object.entries(service.bands ?? {}).map(([zone, bands]) => [zone, { bands }])),
      surcharges: [
        ...(service.fuelPermille > 0 ? [{ on: 'fuel', each: 'shipment', permille: service.fuelPermille }] : []),
        ...(service.signatureFee === null ? [] : [{ on: 'signature', each: 'shipment', amount: service.signatureFee }]),
        { on: 'insurance', each: 'shipment', perHundred: service.cover.perHundred },
      ],
    }))
    const services = world.services.map(
      ({
        bands: _bands,
        dimensionalDivisor: _divisor,
        fuelPermille: _fuel,
        signatureFee,
        tracked,
        offers,
        cover,
        ...rest
      }) => ({
        ...rest,
        offers: [...(tracked ? ['tracking'] : []), ...(signatureFee === null ? [] : ['signature']), ...(offers ?? [])],
        cover: { included: cover.included, upTo: cover.upTo },
      }),
    )
    await db('worlds')
      .where({ version })
      .update({ content: JSON.stringify({ ...world, services, tariffs }) })
  }
}

async function convertOutcomes(db: Knex): Promise<void> {
  for (let after = 0; ;) {
    const page = (await db('decisions')
      .select('order_id', 'outcome')
      .where('order_id', '>', after)
      .orderBy('order_id')
      .limit(500)) as { order_id: number; outcome: string }[]
    if (page.length === 0) return
    for (const { order_id, outcome } of page) {
      const { parcel, ...rest } = JSON.parse(outcome) as {
        parcel?: object | null
        trail: { quotes: { cost: number }[] }
        quote: { cost: number } | null
        runnerUp: { cost: number } | null
      }
      const withList = <T extends { cost: number } | null>(quote: T): T =>
        quote === null ? quote : { ...quote, list: quote.cost, onTime: null }
      await db('decisions')
        .where({ order_id })
        .update({
          outcome: JSON.stringify({
            ...rest,
            parcels: parcel ? [{ ...parcel, contents: [] }] : [],
            quote: withList(rest.quote),
            runnerUp: withList(rest.runnerUp),
            trail: { ...rest.trail, quotes: rest.trail.quotes.map(withList) },
          }),
        })
    }
    after = page[page.length - 1]!.order_id
  }
}

async function convertLabels(db: Knex): Promise<void> {
  for (let after = 0; ;) {
    const page = (await db('labels').where('id', '>', after).orderBy('id').limit(500)) as {
      id: number
      request: string
      tracking_number: string | null
      symbology: string | null
      routing: string | null
      status: string | null
    }[]
    if (page.length === 0) return
    for (const label of page) {
      const { weight = 0, size = [], ...request } = JSON.parse(label.request) as { weight?: number; size?: number[] }
      await db('labels')
        .where({ id: label.id })
        .update({ request: JSON.stringify({ ...request, parcels: [{ weight, size }] }) })
      await db('label_parcels').insert({
        label_id: label.id,
        position: 1,
        preset: '',
        weight,
        size: JSON.stringify(size),
        contents: '[]',
        tracking_number: label.tracking_number,
        symbology: label.symbology,
        routing: label.routing,
        status: label.status,
      })
    }
    after = page[page.length - 1]!.id
  }
}
