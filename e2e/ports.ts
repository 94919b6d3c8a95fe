/** Parts of the tests run beside each other (playwright.config.ts); GHARRY_E2E_PORTS names other ones. */
const first = Number(process.env.GHARRY_E2E_PORTS ?? 4600 + 100 * Number(process.env.GHARRY_PART ?? 1))

/** Ports of the browser tests, apart from the demo's own. */
export const e2ePorts = {
  GHARRY_PORT: first,
  GHARRY_DIRECTORY_PORT: first + 9,
  GHARRY_SHOP_PORT: first + 10,
  GHARRY_HERON_PORT: first + 11,
  GHARRY_CORVID_PORT: first + 12,
  GHARRY_MAIL_PORT: first + 13,
  GHARRY_NORTHLIGHT_PORT: first + 14,
  GHARRY_SKUA_PORT: first + 15,
  GHARRY_BRAMBLE_PORT: first + 16,
  GHARRY_DRAY_PORT: first + 17,
  GHARRY_LANE_PORT: first + 18,
  GHARRY_QUILL_PORT: first + 19,
  GHARRY_DESK_PORT: first + 20,
  GHARRY_SFTP_PORT: first + 22,
  GHARRY_WAREHOUSE_PORT: first + 23,
  GHARRY_WAREHOUSE_SFTP_PORT: first + 24,
  GHARRY_TEXTS_PORT: first + 27,
  GHARRY_BOUNCE_PORT: first + 28,
  GHARRY_PRINTERS_PORT: first + 29,
  GHARRY_IDENTITY_PORT: first + 30,
  GHARRY_RAW_PRINTER_PORT: first + 31,
  GHARRY_SCALE_PORT: first + 32,
  GHARRY_SMTP_PORT: first + 25,
} as const
export const shopUrl = `http://127.0.0.1:${e2ePorts.GHARRY_SHOP_PORT}`
export const heronUrl = `http://127.0.0.1:${e2ePorts.GHARRY_HERON_PORT}`
export const corvidUrl = `http://127.0.0.1:${e2ePorts.GHARRY_CORVID_PORT}`
export const textsUrl = `http://127.0.0.1:${e2ePorts.GHARRY_TEXTS_PORT}`
export const printersUrl = `http://127.0.0.1:${e2ePorts.GHARRY_PRINTERS_PORT}`
export const rawPrinter = `127.0.0.1:${e2ePorts.GHARRY_RAW_PRINTER_PORT}`
export const mailUrl = `http://127.0.0.1:${e2ePorts.GHARRY_MAIL_PORT}`
export const laneUrl = `http://127.0.0.1:${e2ePorts.GHARRY_LANE_PORT}`
