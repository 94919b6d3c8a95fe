import { randomBytes } from 'node:crypto'
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { readFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { buffer } from 'node:stream/consumers'
import type { FastifyInstance } from 'fastify'
import sharp from 'sharp'
import { bucketStandIn } from '../../../standins/bucket'
import { connectionsOfCarrier } from '@/data'
import { openPrint, printLabel, usualProfile } from '../dispatch/printBatch'
import { saveConnection } from '../intake/connections'
import { forgetThese } from '../privacy/forget'
import { showPicture, takePicture } from '../setup/pictures'
import { showLogo, takeLogo } from '../tracking/faces'
import { leftRows, receiveFile, requestFileImport } from '../intake/importFile'
import { openApplication } from '../shared/application'
import { filePlace } from '../shared/files'
import { buyReady, makeRig, soundOrders, type Rig } from './rig'

/** Each place where files can be kept behaves as the others do. */
const folder = mkdtempSync(join(tmpdir(), 'gharry-files-'))
let bucket: FastifyInstance
let endpoint = ''
let rig: Rig
beforeAll(async () => {
  bucket = bucketStandIn('some-key').app
  endpoint = await bucket.listen({ host: '127.0.0.1', port: 0 })
})
afterAll(async () => {
  await bucket.close()
  rmSync(folder, { recursive: true, force: true })
})
afterEach(() => rig.close())

const places: readonly (readonly [string, () => Record<string, string>])[] = [
  ['a folder', () => ({ GHARRY_FILES: join(folder, 'kept') })],
  ['the books', () => ({ GHARRY_FILES: 'books' })],
  [
    'a bucket',
    () => ({
      GHARRY_FILES: `s3://papers/gharry?endpoint=${encodeURIComponent(endpoint)}`,
      GHARRY_FILES_KEY: 'some-key',
      GHARRY_FILES_SECRET: 'some-secret',
    }),
  ],
]

describe.each(places)('files in %s', (_name, env) => {
  test('are kept whole, written over, listed and taken away', async () => {
    rig = await makeRig({ env: env() })
    const { files, working } = rig.gharry
    const put = async (name: string, content: Buffer): Promise<void> => {
      const path = working.path()
      writeFileSync(path, content)
      await files.put(name, path)
      expect(existsSync(path)).toBe(false)
    }
    const read = async (name: string): Promise<Buffer | null> => {
      const content = await files.read(name)
      return content && buffer(content)
    }
    // More than two parts, and nothing at all.
    const big = randomBytes(2_500_001)
    await put('prints/big.pdf', big)
    await put('prints/empty.csv', Buffer.alloc(0))
    expect(await read('prints/big.pdf')).toEqual(big)
    expect(await read('prints/empty.csv')).toEqual(Buffer.alloc(0))
    await put('prints/big.pdf', Buffer.from('another one'))
    expect(await files.local('prints/big.pdf', (path) => readFile(path, 'utf8'))).toBe('another one')
    expect([await read('prints/none.pdf'), await files.local('prints/none.pdf', (path) => readFile(path))]).toEqual([
      null,
      null,
    ])
    for (const n of [1, 2, 3, 4, 5]) await put(`papers/${n}.csv`, Buffer.from(String(n)))
    const listed = await files.list('papers')
    expect(listed.map(({ name }) => name).sort()).toEqual([1, 2, 3, 4, 5].map((n) => `papers/${n}.csv`))
    expect(Math.abs(listed[0]!.changedAt.getTime() - Date.now())).toBeLessThan(3_600_000)
    await files.drop('papers/3.csv')
    await files.drop('papers/3.csv')
    expect((await files.list('papers')).map(({ name }) => name)).not.toContain('papers/3.csv')
    for (const name of ['../key', 'files/../key', 'files/.', 'key', 'files/a/b', '/files/a'])
      await expect((async () => files.read(name))()).rejects.toThrow('is no name of a file')
  })

  test('one server takes an upload and prints; another one imports it, and opens what was printed', async () => {
    rig = await makeRig({ env: env() })
    // On PostgreSQL another machine, which has nothing else in common.
    const elsewhere = process.env.GHARRY_TEST_POSTGRES ? { GHARRY_DATA: join(folder, 'another machine') } : {}
    const other = await openApplication({ ...rig.env, ...elsewhere })
    const text = [
      'order,name,street,zip,city,country,sku,quantity,weight g',
      'F-1,Ann,Kerkstraat 1,9000,Gent,BE,MG-1,1,200',
      'F-2,Ann,Kerkstraat 1,9000,Gent,BE,MG-1,many,200',
    ].join('\n')
    const received = await receiveFile(rig.gharry, Readable.from([Buffer.from(text)]))
    if (!received.ok) throw new Error(received.sentence)
    const { file, preview } = received
    const asked = await requestFileImport(other, {
      ...{ channel: 'mossgill-shop', file, fileName: 'orders.csv' },
      mapping: { ...preview.mapping },
    })
    if (!asked.ok) throw new Error(asked.sentence)
    await rig.workAll()
    const [row] = (await rig.gharry.db('imports').orderBy('id', 'desc')) as { id: number; state: string; bad: number }[]
    expect(row).toMatchObject({ state: 'done', bad: 1 })
    expect((await leftRows(other, row!.id))!.toString()).toMatch(/F-2/)
    // Addresses are not kept twice.
    expect((await rig.gharry.files.list('files')).map(({ name }) => name)).toEqual([`files/left-${row!.id}.csv`])

    await buyReady(rig, soundOrders(1))
    const [label] = await rig.labels()
    const printed = await printLabel(rig.gharry, label!.id)
    if (!printed || 'ok' in printed) throw new Error('nothing was printed')
    const here = await buffer(printed.content)
    expect(here.subarray(0, 5).toString()).toBe('%PDF-')
    expect(await buffer((await openPrint(other, printed.name))!.content)).toEqual(here)
    await other.close()
  })
})

describe.each(places.filter(([name]) => name !== 'the books'))('papers and pictures in %s', (_name, env) => {
  test('labels that a carrier drew and a logo are there, and not in the books; forgotten, they are nowhere', async () => {
    rig = await makeRig({ env: env() })
    const { gharry } = rig
    for (const [carrier, address] of rig.carrierUrls) {
      const [row] = await connectionsOfCarrier(gharry.db, carrier)
      if (row?.kind !== 'json-labels') continue
      await saveConnection(gharry, row.id, {
        ...{ role: 'carrier', kind: 'json-labels', name: carrier, on: true, version: row.version },
        settings: { address, token: 't', labels: 'zpl' },
      })
    }
    await buyReady(rig, soundOrders(2))
    const rows = (await gharry.db('label_papers')) as { content: Buffer; file: string }[]
    expect(rows.map(({ content }) => content.length)).toEqual([0, 0])
    expect((await gharry.files.list('papers')).map(({ name }) => name)).toEqual(
      expect.arrayContaining(rows.map(({ file }) => file)),
    )
    const [label] = await rig.labels()
    const printed = await printLabel(gharry, label!.id, { ...usualProfile, format: 'zpl', parts: 'labels' })
    if (!printed || 'ok' in printed) throw new Error('nothing was printed')
    const text = (await buffer(printed.content)).toString('utf8')
    expect(text).toContain(label!.trackingNumber)
    expect(text).toContain('drawn by')

    const picture = await sharp({ create: { width: 40, height: 40, channels: 3, background: '#2f6f5e' } })
      .png()
      .toBuffer()
    const taken = await takeLogo(gharry, picture)
    if (!taken.ok) throw new Error(taken.sentence)
    expect((await showLogo(gharry, taken.logo))!.content.subarray(1, 4).toString()).toBe('PNG')
    expect(await takePicture(gharry, 'bag', picture)).toEqual({ ok: true })
    expect((await showPicture(gharry, 'bag'))!.content).toEqual(picture)
    expect(((await gharry.db('pictures').first()) as { content: Buffer }).content).toHaveLength(0)

    await forgetThese(gharry, [label!.orderId], { author: 'test', why: 'asked' })
    const left = (await gharry.files.list('papers')).map(({ name }) => name)
    expect(left.filter((name) => rows.some(({ file }) => file === name))).toHaveLength(1)
  })
})

test('a place that cannot be read is refused with what it may be', async () => {
  rig = await makeRig()
  expect(filePlace('s3://papers', '', '')).toBeNull()
  expect(filePlace('s3:', 'key', 'secret')).toBeNull()
  expect(filePlace('s3://papers/a/b/', 'key', 'secret')).toMatchObject({
    settings: { bucket: 'papers', prefix: 'a/b/' },
  })
  await expect(openApplication({ ...rig.env, GHARRY_FILES: 's3://papers' })).rejects.toThrow(
    'GHARRY_FILES is wrong: it is a folder, books, or s3://bucket, with GHARRY_FILES_KEY and GHARRY_FILES_SECRET',
  )
})
