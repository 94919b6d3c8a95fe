/** Ports of the browser tests, apart from the demo's own. */
export const e2ePorts = {
  GHARRY_PORT: 4700,
  GHARRY_SHOP_PORT: 4710,
  GHARRY_HERON_PORT: 4711,
  GHARRY_CORVID_PORT: 4712,
  GHARRY_MAIL_PORT: 4713,
  GHARRY_NORTHLIGHT_PORT: 4714,
  GHARRY_SKUA_PORT: 4715,
  GHARRY_BRAMBLE_PORT: 4716,
  GHARRY_DRAY_PORT: 4717,
  GHARRY_SMTP_PORT: 4725,
} as const
export const shopUrl = `http://127.0.0.1:${e2ePorts.GHARRY_SHOP_PORT}`
export const heronUrl = `http://127.0.0.1:${e2ePorts.GHARRY_HERON_PORT}`
export const corvidUrl = `http://127.0.0.1:${e2ePorts.GHARRY_CORVID_PORT}`
export const mailUrl = `http://127.0.0.1:${e2ePorts.GHARRY_MAIL_PORT}`
