import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import fc from 'fast-check'
import { changeKey, LostKey, openVault, vaultOf } from './vault'

const withKey = (key: Buffer) => vaultOf(() => [key])
const file = () => join(folder, 'key')

const folder = mkdtempSync(join(tmpdir(), 'gharry-vault-'))
afterAll(() => rmSync(folder, { recursive: true }))

test('what is sealed is opened again, and nothing of it can be read', () => {
  const vault = withKey(randomBytes(32))
  fc.assert(
    fc.property(fc.string({ maxLength: 300 }), fc.string({ maxLength: 40 }), (secret, of) => {
      const sealed = vault.seal(secret, of)
      expect(vault.open(sealed, of)).toBe(secret)
      if (secret.length > 6) expect(sealed).not.toContain(secret)
      expect(vault.seal(secret, of)).not.toBe(sealed)
    }),
  )
})

test('it is AES-256-GCM: opened without our code', () => {
  const key = randomBytes(32)
  const parts = withKey(key).seal('the secret', 'shop').split(':').slice(2)
  const opened = (key: Buffer, [iv, tag, body]: readonly string[]): Buffer => {
    const plain = createDecipheriv('aes-256-gcm', key, Buffer.from(iv!, 'base64url'))
    plain.setAAD(Buffer.from('shop')).setAuthTag(Buffer.from(tag!, 'base64url'))
    return Buffer.concat([plain.update(Buffer.from(body!, 'base64url')), plain.final()])
  }
  // The key of the vault opens that of the secret, which opens the secret.
  const own = opened(key, parts.slice(0, 3))
  expect(own).toHaveLength(32)
  expect(opened(own, parts.slice(3)).toString()).toBe('the secret')
})

test('as it was sealed before each secret had a key of its own, it is opened, and sealed anew so', () => {
  const key = randomBytes(32)
  const cipher = createCipheriv('aes-256-gcm', key, Buffer.alloc(12, 5)).setAAD(Buffer.from('shop'))
  const body = Buffer.concat([cipher.update('the secret'), cipher.final()])
  const old = [
    'v1',
    withKey(key).keyId,
    ...[Buffer.alloc(12, 5), cipher.getAuthTag(), body].map((part) => part.toString('base64url')),
  ].join(':')
  expect(withKey(key).open(old, 'shop')).toBe('the secret')
  const anew = withKey(key).rewrap(old, 'shop')
  expect(anew).toMatch(/^v2:/)
  expect(withKey(key).open(anew, 'shop')).toBe('the secret')
})

test('when the key changes, only what wraps the secret is sealed anew', () => {
  const [before, now] = [randomBytes(32), randomBytes(32)]
  const sealed = withKey(before).seal('the secret', 'shop')
  const both = vaultOf(() => [now, before])
  const anew = both.rewrap(sealed, 'shop')
  expect(anew.split(':').slice(5)).toEqual(sealed.split(':').slice(5))
  expect(withKey(now).open(anew, 'shop')).toBe('the secret')
  expect(() => both.rewrap(sealed, 'another')).toThrow(LostKey)
})

test('of another connection, changed by one bit, or under another key it is not opened, and says what to do', () => {
  const vault = withKey(randomBytes(32))
  const sealed = vault.seal('secret', 'shop')
  const bent = sealed.slice(0, -2) + (sealed.endsWith('AA') ? 'BB' : 'AA')
  expect(() => vault.open(sealed, 'another')).toThrow(LostKey)
  expect(() => vault.open(bent, 'shop')).toThrow(/enter them again/)
  expect(() => vault.open('v9:x', 'shop')).toThrow(LostKey)
  expect(() => withKey(randomBytes(32)).open(sealed, 'shop')).toThrow(/start Gharry with that key/)
})

test('the key file is made once, for its owner alone; a former key still opens', () => {
  const first = openVault(folder, undefined)
  const sealed = first.seal('secret', 'shop')
  expect(statSync(file()).mode & 0o777).toBe(0o600)
  expect(openVault(folder, undefined).open(sealed, 'shop')).toBe('secret')
  const former = readFileSync(file(), 'utf8')
  const next = openVault(folder, randomBytes(32).toString('base64'), [former])
  expect(next.keyId).not.toBe(first.keyId)
  expect(next.open(sealed, 'shop')).toBe('secret')
})

test('the key is changed: what was sealed is sealed anew, and a running process finds it by itself', async () => {
  const own = mkdtempSync(join(tmpdir(), 'gharry-vault-'))
  const running = openVault(own, undefined)
  let sealed = running.seal('secret', 'shop')
  const was = running.keyId
  // A run that is cut off before it has sealed everything changes nothing.
  await expect(changeKey(own, () => Promise.reject(new Error('cut off')))).rejects.toThrow('cut off')
  expect(openVault(own, undefined).keyId).toBe(was)
  const next = await changeKey(own, (vault) => {
    sealed = vault.seal(vault.open(sealed, 'shop'), 'shop')
    return Promise.resolve()
  })
  expect(next.keyId).not.toBe(was)
  expect(sealed).toContain(next.keyId)
  expect(running.open(sealed, 'shop')).toBe('secret')
  expect(openVault(own, undefined).open(sealed, 'shop')).toBe('secret')
  expect(statSync(join(own, 'key.before')).mode & 0o777).toBe(0o600)
  rmSync(own, { recursive: true })
})

test.each(['', 'short', 'A'.repeat(100)])('a key that is none is named: “%s”', (key) => {
  writeFileSync(join(folder, 'key'), key, { mode: 0o600 })
  expect(() => openVault(folder, undefined)).toThrow(/must hold 32 bytes/)
})
