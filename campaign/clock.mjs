/* Loaded before Gharry's processes in a campaign: their clock is as far off as the file of GHARRY_CAMPAIGN_CLOCK says, in milliseconds. */
import { readFileSync } from 'node:fs'

const file = process.env.GHARRY_CAMPAIGN_CLOCK
const Real = Date
let [offset, readAt] = [0, 0]

function off() {
  const now = Real.now()
  if (Math.abs(now - readAt) > 200) {
    readAt = now
    try {
      offset = Number(readFileSync(file, 'utf8')) || 0
    } catch {
      offset = 0
    }
  }
  return offset
}

const now = () => Real.now() + off()

if (file)
  globalThis.Date = new Proxy(Real, {
    construct: (target, args, made) => Reflect.construct(target, args.length === 0 ? [now()] : args, made),
    apply: () => new Real(now()).toString(),
    get: (target, name) => (name === 'now' ? now : Reflect.get(target, name)),
  })
