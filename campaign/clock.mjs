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

if (file)
  globalThis.Date = class extends Real {
    constructor(...args) {
      if (args.length === 0) super(Real.now() + off())
      else super(...args)
    }
    static now() {
      return Real.now() + off()
    }
  }
