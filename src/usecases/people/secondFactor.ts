import { randomBytes } from 'node:crypto'
import bwipjs from 'bwip-js'
import { Secret, TOTP } from 'otpauth'
import { addAudit, changePerson, factorsOf, takeRecovery, toJson, useStep } from '@/data'
import { refuse, type Answer, type Application } from '../shared/application'
import { digest } from './secrets'
import type { From, Person } from './signedIn'
import { countTry, tooManyTries } from './tries'

/** Seconds of a step (RFC 6238), and how many steps a clock may be off. */
const [period, off] = [30, 1]
const codes = 10

/** As whose a second factor is sealed. */
export const sealedAs = (id: number): string => `second factor of person ${id}`
const totpOf = (secret: string, label: string): TOTP =>
  new TOTP({ issuer: 'Gharry', label, secret: Secret.fromBase32(secret), period })

/** Whether a code is right now, or a recovery code that is left; says which it was. Each is used up by it. */
export async function isSecond(
  { db, vault, now }: Application,
  id: number,
  given: string,
): Promise<'a code' | 'a recovery code' | null> {
  const code = given.replace(/[\s-]/g, '').toLowerCase()
  if (/^\d{6}$/.test(code)) {
    const { second } = await factorsOf(db, id)
    if (second === null) return null
    const step = stepOf(vault.open(second, sealedAs(id)), code, now())
    return step !== null && (await useStep(db, id, step)) ? 'a code' : null
  }
  return /^[a-z2-7]{16}$/.test(code) && (await takeRecovery(db, id, digest(code))) ? 'a recovery code' : null
}

function stepOf(secret: string, code: string, at: Date): number | null {
  const delta = totpOf(secret, '').validate({ token: code, timestamp: at.getTime(), window: off })
  return delta === null ? null : Math.floor(at.getTime() / 1000 / period) + delta
}

/**
 * Makes a secret for the own second factor: as text and as a code for a phone. It counts once a code of it is given.
 */
export async function proposeSecond(
  { db, vault }: Application,
  person: Person,
): Promise<Answer<{ readonly secret: string; readonly picture: string }>> {
  if ((await factorsOf(db, person.id)).secondSince !== null)
    return refuse('taken', 'You have a second factor. Take it off first.')
  const secret = new Secret({ size: 20 }).base32
  await changePerson(db, person.id, { second: vault.seal(secret, sealedAs(person.id)) })
  const svg = bwipjs.toSVG({ bcid: 'qrcode', text: totpOf(secret, person.email).toString(), scale: 3 })
  return { ok: true, secret, picture: `data:image/svg+xml;base64,${Buffer.from(svg).toString('base64')}` }
}

/** Sets the proposed second factor in force; gives recovery codes, which are shown this once. */
export async function confirmSecond(
  { db, vault, now }: Application,
  person: Person,
  code: string,
): Promise<Answer<{ readonly recovery: readonly string[] }>> {
  const { second, secondSince } = await factorsOf(db, person.id)
  if (second === null || secondSince !== null)
    return refuse('not-known', 'There is no second factor to confirm: begin again.')
  const at = now()
  const step = stepOf(vault.open(second, sealedAs(person.id)), code.replace(/\s/g, ''), at)
  if (step === null) return refuse('bad-value', 'This code is not right. Take the one that the phone shows now.')
  const recovery = Array.from({ length: codes }, () => freshCode())
  await db.transaction(async (trx) => {
    await changePerson(trx, person.id, {
      ...{ secondSince: at.toISOString(), secondStep: step },
      recovery: toJson(recovery.map((one) => digest(one.replaceAll('-', '')))),
    })
    await addAudit(trx, { action: 'second factor set', about: `person ${person.id}` }, at.toISOString())
  })
  return { ok: true, recovery }
}

/** Takes the own second factor off, with a code of it. */
export async function removeSecond(
  gharry: Application,
  person: Person,
  code: string,
  from: From,
): Promise<Answer<object>> {
  const many = await tooManyTries(gharry, person.email, from.address)
  if (many) return many
  if (!(await isSecond(gharry, person.id, code))) {
    await countTry(gharry, person.email, from.address)
    return refuse('bad-value', 'This code is not right. Take the one that the phone shows now.')
  }
  await forgetSecond(gharry, person.id)
  return { ok: true }
}

/** Takes somebody's second factor off: their phone is lost. */
export async function forgetSecond({ db, now }: Application, id: number): Promise<void> {
  await db.transaction(async (trx) => {
    await changePerson(trx, id, { second: null, secondSince: null, recovery: '[]' })
    await addAudit(trx, { action: 'second factor taken off', about: `person ${id}` }, now().toISOString())
  })
}

/** 80 bits in groups of four letters that cannot be mixed up. */
const freshCode = (): string =>
  [...randomBytes(16)]
    .map((byte) => 'abcdefghijklmnopqrstuvwxyz234567'[byte % 32]!)
    .join('')
    .replace(/(.{4})(?=.)/g, '$1-')
