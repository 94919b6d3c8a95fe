import { execFileSync } from 'node:child_process'
import { createHmac } from 'node:crypto'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Resvg } from '@resvg/resvg-js'
import { actingAs, addAudit, checkChain, readAudit, unkeepAudit } from '@/data'
import { buyBatch } from '../dispatch/buyBatch'
import { planBatch } from '../dispatch/planBatch'
import { voidMany } from '../dispatch/voidMany'
import { requestImport } from '../intake/importOrders'
import { changeChannelSettings } from '../intake/changeChannel'
import { changePassword, endElsewhere, showAccount } from '../people/account'
import { asWhoAsks, noteAsked } from '../people/atTheDoor'
import { auditFile, showAudit } from '../people/audit'
import { endBadge, makeBadge, signInByBadge } from '../people/badges'
import { lookAt } from '../people/beforeAndAfter'
import { needs } from '../people/needs'
import { linkForOwner } from '../people/ownerLink'
import { changePersonBy, endAllOf, invite, newLink, showPeople } from '../people/people'
import { plainForAudit } from '../people/plainForAudit'
import { confirmSecond, proposeSecond, removeSecond } from '../people/secondFactor'
import {
  agreeTo,
  chooseWatched,
  propose,
  refuseProposal,
  settleProposal,
  showProposals,
  wantsTwo,
} from '../people/proposals'
import { actorOf, type Person, whoIs } from '../people/signedIn'
import { giveSecond, signIn, signOut } from '../people/signIn'
import { showWelcome, useWelcome } from '../people/welcome'
import { changeWorld } from '../shared/changeWorld'
import { rotateKey } from '../shared/rotateKey'
import { makeRig, type Rig, soundOrders } from './rig'

const at = (address: string) => ({ address, agent: 'Test' })
const here = at('192.0.2.1')
const words = 'slow fish under lamps'
let rig: Rig
let gharry: Rig['gharry']

beforeEach(async () => {
  rig = await makeRig()
  gharry = rig.gharry
})
afterEach(() => rig.close())

const secretIn = (link: string): string => link.split('/welcome/')[1]!
const done = <T extends { readonly ok: boolean }>(answer: T): Extract<T, { readonly ok: true }> => {
  expect(answer).toMatchObject({ ok: true })
  return answer as Extract<T, { readonly ok: true }>
}
async function owner(): Promise<Person> {
  const { link } = done(await linkForOwner(gharry))
  const given = { secret: secretIn(link), name: 'Ilse Vermaere', email: 'ilse@mossgill.example', password: words }
  return (await whoIs(gharry, done(await useWelcome(gharry, given, here)).cookie))!
}
async function somebody(role: Person['role'], email: string, location: string | null = null): Promise<Person> {
  const { link } = done(await invite(gharry, { name: `A ${role}`, email, role, location }))
  const { cookie } = done(
    await useWelcome(gharry, { secret: secretIn(link), name: '', email: '', password: words }, here),
  )
  return (await whoIs(gharry, cookie))!
}
/** A code as a phone makes it (RFC 6238, RFC 4226), written from the documents. */
function codeOf(secret: string, time: Date): string {
  const bits = [...secret]
    .map((letter) => 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567'.indexOf(letter).toString(2).padStart(5, '0'))
    .join('')
  const key = Buffer.from((bits.match(/.{8}/g) ?? []).map((byte) => parseInt(byte, 2)))
  const step = Buffer.alloc(8)
  step.writeBigUInt64BE(BigInt(Math.floor(time.getTime() / 30_000)))
  const mac = createHmac('sha1', key).update(step).digest()
  const from = mac[19]! & 15
  return String((mac.readUInt32BE(from) & 0x7fffffff) % 1_000_000).padStart(6, '0')
}

test('the first owner comes from the terminal, by a link that works once, and nobody else does', async () => {
  const { link } = done(await linkForOwner(gharry))
  expect(await showWelcome(gharry, secretIn(link))).toBeNull()
  const given = { secret: secretIn(link), name: 'Ilse', email: 'Ilse@Mossgill.example', password: words }
  for (const [wrong, code] of [
    [{ ...given, password: 'short' }, 'bad-password'],
    [{ ...given, password: 'passwordpassword' }, 'bad-password'],
    [{ ...given, email: 'ilse' }, 'bad-value'],
    [{ ...given, secret: 'x'.repeat(43) }, 'not-found'],
  ] as const)
    expect(await useWelcome(gharry, wrong, here)).toMatchObject({ ok: false, code })
  done(await useWelcome(gharry, given, here))
  expect(await useWelcome(gharry, { ...given, email: 'other@mossgill.example' }, here)).toMatchObject({
    code: 'not-found',
  })
  expect(await linkForOwner(gharry)).toMatchObject({ ok: false, code: 'taken' })
  expect((await showPeople(gharry)).people).toMatchObject([
    { email: 'ilse@mossgill.example', role: 'owner', factors: ['Password'] },
  ])
  // One who has lost their way is let in again from the terminal, and the old password is none any more.
  const again = done(await linkForOwner(gharry, 'ilse@mossgill.example'))
  done(await useWelcome(gharry, { ...given, secret: secretIn(again.link), password: 'another few words here' }, here))
  expect(await signIn(gharry, { email: 'ilse@mossgill.example', password: words }, here)).toMatchObject({
    code: 'wrong-sign-in',
  })
})

test('a link is over after three days; of two made for one person only the younger works', async () => {
  await owner()
  const first = done(
    await invite(gharry, { name: 'Ada', email: 'ada@mossgill.example', role: 'packer', location: null }),
  )
  const second = done(await newLink(gharry, first.id))
  expect(await showWelcome(gharry, secretIn(first.link))).toBeUndefined()
  expect(await showWelcome(gharry, secretIn(second.link))).toMatchObject({ name: 'Ada' })
  rig.put(72 * 60 + 1)
  expect(await showWelcome(gharry, secretIn(second.link))).toBeUndefined()
})

test('wrong and unknown are refused with the same words; after five, from this address, even the right one waits', async () => {
  await owner()
  const email = 'ilse@mossgill.example'
  const refusals = new Set<string>()
  for (const given of [
    { email: 'nobody@mossgill.example', password: words },
    { email, password: 'not this one, sorry' },
    { email, password: '' },
  ]) {
    const answer = await signIn(gharry, given, at('192.0.2.66'))
    refusals.add(JSON.stringify(answer))
  }
  expect(refusals.size).toBe(1)
  for (let i = 0; i < 3; i++) await signIn(gharry, { email, password: `wrong ${i}` }, at('192.0.2.66'))
  const right = { email: ' ILSE@mossgill.example ', password: words }
  expect(await signIn(gharry, right, at('192.0.2.66'))).toMatchObject({ ok: false, code: 'too-many-tries' })
  done(await signIn(gharry, right, at('192.0.2.67')))
})

test('a sign-in is a fresh secret each time, kept as a hash; it ends by hand, by time, when nothing is done, and with the person', async () => {
  const first = await owner()
  const right = { email: first.email, password: words }
  const [a, b] = [done(await signIn(gharry, right, here)).cookie, done(await signIn(gharry, right, here)).cookie]
  expect(a).not.toBe(b)
  expect(JSON.stringify(await gharry.db('sign_ins').select())).not.toContain(a)
  for (const wrong of [undefined, '', `${a}x`, a.slice(1), 'x'.repeat(5000)])
    expect(await whoIs(gharry, wrong)).toBeNull()
  const asA = (await whoIs(gharry, a))!
  expect((await showAccount(gharry, asA)).signIns).toHaveLength(3)
  done(await endElsewhere(gharry, asA, 'others'))
  expect([await whoIs(gharry, b), (await whoIs(gharry, a))?.id]).toEqual([null, first.id])
  done(await signOut(gharry, asA))
  expect(await whoIs(gharry, a)).toBeNull()
  const idle = done(await signIn(gharry, right, here)).cookie
  rig.put(11 * 60)
  expect(await whoIs(gharry, idle)).not.toBeNull()
  rig.put(12 * 60 + 1)
  expect(await whoIs(gharry, idle)).toBeNull()
  const old = done(await signIn(gharry, right, here)).cookie
  for (let hours = 0; hours < 168; hours += 8) {
    expect([hours, (await whoIs(gharry, old)) !== null]).toEqual([hours, true])
    rig.put(8 * 60)
  }
  expect(await whoIs(gharry, old)).toBeNull()
})

test('a role that is changed, and an end, hold at the next request; nobody changes their own, and an owner stays', async () => {
  const first = await owner()
  const other = await somebody('dispatcher', 'tomasz@mossgill.example')
  const cookie = done(await signIn(gharry, { email: other.email, password: words }, here)).cookie
  done(await changePersonBy(gharry, first, { id: other.id, role: 'reader', location: null, name: other.name }))
  expect((await whoIs(gharry, cookie))?.role).toBe('reader')
  for (const change of [
    { id: first.id, ended: true },
    { id: first.id, role: 'reader' as const, location: null, name: first.name },
  ])
    expect(await changePersonBy(gharry, first, change)).toMatchObject({ ok: false, code: 'last-owner' })
  expect(await changePersonBy(gharry, other, { id: first.id, ended: true })).toMatchObject({ code: 'last-owner' })
  expect(
    await changePersonBy(gharry, first, { id: other.id, role: 'partner', location: 'nowhere', name: other.name }),
  ).toMatchObject({ ok: false, fields: { location: expect.any(String) } })
  done(await changePersonBy(gharry, first, { id: other.id, ended: true }))
  expect(await whoIs(gharry, cookie)).toBeNull()
  expect(await signIn(gharry, { email: other.email, password: words }, at('192.0.2.9'))).toMatchObject({
    code: 'wrong-sign-in',
  })
  done(await changePersonBy(gharry, first, { id: other.id, ended: false }))
  const back = done(await signIn(gharry, { email: other.email, password: words }, at('192.0.2.9'))).cookie
  done(await endAllOf(gharry, other.id))
  expect(await whoIs(gharry, back)).toBeNull()
  expect(
    await invite(gharry, { name: 'Twice', email: 'TOMASZ@mossgill.example', role: 'packer', location: null }),
  ).toMatchObject({
    ok: false,
    fields: { email: expect.any(String) },
  })
})

test('a changed password ends all other sign-ins; the old one has to be known', async () => {
  const first = await owner()
  const elsewhere = done(await signIn(gharry, { email: first.email, password: words }, here)).cookie
  const change = { before: words, password: 'entirely other words now' }
  expect(await changePassword(gharry, first, { ...change, before: 'a guess, no more' }, here)).toMatchObject({
    ok: false,
    fields: { before: expect.any(String) },
  })
  expect(await changePassword(gharry, first, { ...change, password: 'ilse vermaere' }, here)).toMatchObject({
    code: 'bad-password',
  })
  expect(done(await changePassword(gharry, first, change, here)).ended).toBe(1)
  expect(await whoIs(gharry, elsewhere)).toBeNull()
  const [{ password }] = (await gharry.db('people').select('password')) as [{ password: string }]
  expect(password).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/)
})

test('the second factor: a code once, near its time; recovery codes once each; half a sign-in may nothing; the key may change', async () => {
  const first = await owner()
  const right = { email: first.email, password: words }
  const { secret } = done(await proposeSecond(gharry, first))
  // Proposed is not yet asked for.
  expect(done(await signIn(gharry, right, here)).next).toBe('done')
  expect(await confirmSecond(gharry, first, '000000')).toMatchObject({ ok: false })
  const { recovery } = done(await confirmSecond(gharry, first, codeOf(secret, gharry.now())))
  expect(recovery).toHaveLength(10)
  const begin = async (): Promise<string> => {
    const step = done(await signIn(gharry, right, here))
    expect(step.next).toBe('second')
    return step.cookie
  }
  const half = await begin()
  expect(await whoIs(gharry, half)).toBeNull()
  // The code that set it up is used up.
  expect(await giveSecond(gharry, half, codeOf(secret, gharry.now()), here)).toMatchObject({ ok: false })
  rig.put(1)
  const code = codeOf(secret, gharry.now())
  const whole = done(await giveSecond(gharry, half, `${code.slice(0, 3)} ${code.slice(3)}`, here)).cookie
  expect(whole).not.toBe(half)
  expect([await whoIs(gharry, half, false), (await whoIs(gharry, whole))?.id]).toEqual([null, first.id])
  expect(await giveSecond(gharry, await begin(), code, here)).toMatchObject({ ok: false })
  rig.put(10)
  expect(
    await giveSecond(gharry, await begin(), codeOf(secret, new Date(gharry.now().getTime() - 90_000)), here),
  ).toMatchObject({ ok: false })
  done(await giveSecond(gharry, await begin(), recovery[3]!, here))
  expect(await giveSecond(gharry, await begin(), recovery[3]!, here)).toMatchObject({ ok: false })
  expect(await giveSecond(gharry, 'nobody’s', recovery[4]!, here)).toMatchObject({ code: 'signed-out' })
  expect((await showAccount(gharry, first)).recoveryLeft).toBe(9)
  done(await rotateKey(gharry))
  rig.put(1)
  done(await giveSecond(gharry, await begin(), codeOf(secret, gharry.now()), here))
  rig.put(1)
  done(await removeSecond(gharry, first, codeOf(secret, gharry.now()), here))
  expect(done(await signIn(gharry, right, here)).next).toBe('done')
  expect(JSON.stringify(await gharry.db('audit').select())).not.toContain(secret)
})

test('the audit: who, before and after, chained; it cannot be changed, and a change past its guards is found', async () => {
  const first = await owner()
  await actingAs(actorOf(first, '192.0.2.1', 'request-1'), async () => {
    await changeWorld(gharry, null, '', (world) => ({
      ...world,
      presets: world.presets.map((preset, i) => (i === 0 ? { ...preset, name: 'Renamed' } : preset)),
    }))
    await addAudit(
      gharry.db,
      { action: 'something', about: 'order 7', after: { decided: true } },
      gharry.now().toISOString(),
    )
  })
  const { lines } = await showAudit(gharry, {})
  expect(lines[1]).toMatchObject({
    ...{
      actor: `person:${first.id}`,
      name: 'Ilse Vermaere',
      role: 'owner',
      address: '192.0.2.1',
      request: 'request-1',
    },
    action: 'world changed',
    before: expect.objectContaining({}),
  })
  expect(Object.values(lines[1]!.after as object)).toEqual([expect.objectContaining({ name: 'Renamed' })])
  expect((await showAudit(gharry, { search: 'order 7 DECIDED' })).lines).toHaveLength(1)
  expect((await showAudit(gharry, { search: '100%' })).lines).toHaveLength(0)
  expect((await showAudit(gharry, { actor: 'person:99' })).lines).toHaveLength(0)
  expect(String(await auditFile(gharry, 'csv', {}))).toContain('Renamed')
  const before = await checkChain(gharry.db)
  expect(before).toMatchObject({ wrong: null, head: expect.stringMatching(/^[0-9a-f]{64}$/) })
  for (const change of [
    () => gharry.db('audit').where({ seq: 2 }).update({ name: 'Nobody' }),
    () => gharry.db('audit').where({ seq: 2 }).delete(),
  ])
    await expect((async () => void (await change()))()).rejects.toMatchObject({
      message: expect.stringContaining('the audit is only added to') as string,
    })
  await unkeepAudit(gharry.db)
  const [second] = await gharry.db('audit').where({ seq: 2 })
  await gharry.db('audit').where({ seq: 2 }).update({ after: '{"made":"up"}' })
  expect((await checkChain(gharry.db)).wrong).toEqual({ seq: 2, why: 'It is not as it was written.' })
  await gharry.db('audit').where({ seq: 2 }).delete()
  expect((await checkChain(gharry.db)).wrong).toEqual({ seq: 2, why: 'It is missing.' })
  await gharry.db('audit').insert(second as object)
  expect((await checkChain(gharry.db)).wrong).toBeNull()
  // Many at once make one chain.
  await Promise.all(
    Array.from({ length: 20 }, (_, i) =>
      addAudit(gharry.db, { action: 'at once', about: String(i) }, gharry.now().toISOString()),
    ),
  )
  expect(await checkChain(gharry.db)).toMatchObject({ lines: before.lines + 20, wrong: null })
  expect(await readAudit(gharry.db, { before: 3 }, 10)).toHaveLength(2)
})

test('what a call changes is in the audit as it was before and as it is after, and everything that is looked at exists', async () => {
  const ilse = await owner()
  await rig.stockShop(soundOrders(2))
  await requestImport(gharry, 'mossgill-shop')
  await rig.workAll()
  const ids = (await rig.orders()).map(({ id }) => id)
  const plan = await planBatch(gharry, ids)
  done(await buyBatch(gharry, ids, plan.total))
  await rig.workAll()
  const call = async (endpoint: string, params: Record<string, string>, body: object, work: () => Promise<object>) => {
    await asWhoAsks(gharry, { endpoint, params }, ilse, { ...here, request: 'r' }, async () => {
      await noteAsked(gharry, endpoint, params, body)
      return (await work()) as { ok: boolean }
    })
    return (await showAudit(gharry, {})).lines[0]!
  }
  const labels = ((await gharry.db('labels').select('id')) as { id: number }[]).map(({ id }) => id)
  expect(await call('POST /api/dispatch/labels/void', {}, { labels }, () => voidMany(gharry, labels))).toMatchObject({
    ...{ action: 'labels voided', actor: `person:${ilse.id}` },
    before: Object.fromEntries(labels.map((id) => [`label ${id}`, { state: 'bought' }])),
    after: { ...Object.fromEntries(labels.map((id) => [`label ${id}`, { state: 'voiding' }])), asked: { labels } },
  })
  const change = { everyMinutes: 7 }
  expect(
    await call('PATCH /api/intake/channels/:id', { id: 'mossgill-shop' }, change, () =>
      changeChannelSettings(gharry, 'mossgill-shop', change),
    ),
  ).toMatchObject({
    about: 'channel mossgill-shop',
    before: { 'channel mossgill-shop': { everyMinutes: 0 } },
    after: { 'channel mossgill-shop': { everyMinutes: 7 }, asked: change },
  })
  // Whatever is looked at is a column that is there.
  const all = { id: 1, sku: 'A', channel: 'x', carrier: 'x', label: 1, labels: [1], orders: [1], groups: [[1]] }
  for (const endpoint of Object.keys(needs))
    await lookAt(gharry, endpoint, { id: '1' }, { ...all, edit: 1, invoice: 1 })?.()
  await newLink(gharry, ilse.id)
  expect((await showAudit(gharry, {})).lines[0]).toMatchObject({ about: `person ${ilse.id}: Ilse Vermaere` })
})

test('nothing secret and nothing of a buyer gets into the audit', () => {
  const body = {
    orders: Array.from({ length: 80 }, (_, i) => i),
    shipTo: { name: 'Noor Van Acker', lines: ['Coupure Links 88'] },
    email: 'noor@post.example',
    note: 'call noor@post.example',
    secrets: { key: 'abc' },
    clientSecret: 'abc',
    deep: { a: { b: { c: { d: { e: { f: 'far' } } } } } },
    long: 'x'.repeat(500),
    weight: 5,
  }
  const kept = JSON.stringify(plainForAudit(body))
  for (const told of ['Noor', 'Coupure', 'noor@post', 'abc', 'far', 'xxxx']) expect(kept).not.toContain(told)
  for (const told of ['"weight":5', '80 in all', '500 characters', '…@…']) expect(kept).toContain(told)
})

test('a badge and its code let onto the floor for a shift, whoever’s it is; a found badge is not enough', async () => {
  await owner()
  const other = await somebody('dispatcher', 'tomasz@mossgill.example')
  const { badge, code, picture } = done(await makeBadge(gharry, other.id))
  const file = join(mkdtempSync(join(tmpdir(), 'gharry-badge-')), 'badge.png')
  writeFileSync(
    file,
    new Resvg(Buffer.from(picture.split(',')[1]!, 'base64'), { background: 'white', fitTo: { mode: 'zoom', value: 2 } })
      .render()
      .asPng(),
  )
  expect(execFileSync('zbarimg', ['-q', '--raw', file], { encoding: 'utf8' }).trim()).toBe(badge)
  const { cookie } = done(await signInByBadge(gharry, { badge: ` ${badge.toLowerCase()}`, code }, here))
  expect((await whoIs(gharry, cookie))?.role).toBe('packer')
  rig.put(10 * 60 + 1)
  expect(await whoIs(gharry, cookie)).toBeNull()
  const wrong = code === '000000' ? '000001' : '000000'
  for (let i = 0; i < 5; i++)
    expect(await signInByBadge(gharry, { badge, code: wrong }, at('192.0.2.3'))).toMatchObject({
      code: 'wrong-sign-in',
    })
  expect(await signInByBadge(gharry, { badge, code }, at('192.0.2.3'))).toMatchObject({ code: 'too-many-tries' })
  expect(await signInByBadge(gharry, { badge: 'GB000000000000', code }, here)).toMatchObject({ code: 'wrong-sign-in' })
  done(await endBadge(gharry, other.id))
  expect(await signInByBadge(gharry, { badge, code }, here)).toMatchObject({ code: 'wrong-sign-in' })
  const kept = JSON.stringify([await gharry.db('people').select(), await gharry.db('audit').select()])
  for (const secret of [badge, `"${code}"`]) expect(kept).not.toContain(secret)
})

test('a second pair of eyes: begun is not done; nobody agrees to their own; of two who agree at once one does it', async () => {
  const first = await owner()
  const lead = await somebody('lead', 'noor@mossgill.example')
  const dispatcher = await somebody('dispatcher', 'tomasz@mossgill.example')
  const endpoint = 'POST /api/rules/rulebook/publish'
  expect(await wantsTwo(gharry, endpoint)).toBe(false)
  expect(await chooseWatched(gharry, { version: 0, kinds: ['nothing'] })).toMatchObject({ code: 'bad-value' })
  done(await chooseWatched(gharry, { version: 0, kinds: ['publish', 'spend'] }))
  expect(await chooseWatched(gharry, { version: 0, kinds: [] })).toMatchObject({ code: 'world-changed' })
  expect([await wantsTwo(gharry, endpoint), await wantsTwo(gharry, 'PUT /api/ledger/tariffs/file')]).toEqual([
    true,
    false,
  ])
  const body = Buffer.from(JSON.stringify({ revision: 3, note: 'as agreed', settings: { secret: 'hidden words' } }))
  await propose(gharry, lead, { endpoint, path: '/api/rules/rulebook/publish', body })
  const [waits] = (await showProposals(gharry, lead)).proposals
  expect(waits).toMatchObject({
    what: 'rulebook published',
    by: 'A lead',
    state: 'waits',
    shown: { note: 'as agreed' },
  })
  for (const table of ['proposals', 'audit'])
    expect(JSON.stringify(await gharry.db(table).select())).not.toContain('hidden words')
  expect(await agreeTo(gharry, lead, waits!.id)).toMatchObject({ ok: false, code: 'not-allowed' })
  expect(await agreeTo(gharry, dispatcher, waits!.id)).toMatchObject({ ok: false, code: 'not-allowed' })
  const other = await somebody('lead', 'other@mossgill.example')
  const both = await Promise.all([agreeTo(gharry, first, waits!.id), agreeTo(gharry, other, waits!.id)])
  expect(both.filter(({ ok }) => ok)).toHaveLength(1)
  const won = both.find((answer) => answer.ok)
  expect(won).toMatchObject({ endpoint, path: '/api/rules/rulebook/publish' })
  expect((won as unknown as { body: Buffer }).body.equals(body)).toBe(true)
  await settleProposal(gharry, waits!.id, false, 'The draft has changed meanwhile.')
  expect((await showProposals(gharry, first)).proposals[0]).toMatchObject({
    state: 'failed',
    outcome: 'The draft has changed meanwhile.',
  })
  expect(await refuseProposal(gharry, first, waits!.id)).toMatchObject({ code: 'taken-before' })
  await propose(gharry, lead, { endpoint, path: '/api/rules/rulebook/publish', body })
  done(await refuseProposal(gharry, lead, waits!.id + 1))
  expect(await agreeTo(gharry, first, waits!.id + 1)).toMatchObject({ code: 'taken-before' })
})
