export {
  type BoughtLabel,
  carrierClient,
  type CarrierClient,
  type CarrierEvent,
  type LabelRequest,
} from './carriers/carrier'
export type { ChannelClient, Fulfilment } from './channels/channel'
export { shopClient, shopRawOrder } from './channels/shop'
export {
  fileFields,
  type FileMapping,
  type FileOrder,
  type FilePreview,
  type FileProblem,
  missingFields,
  previewOrderFile,
  readOrderFile,
  unusedColumns,
} from './files/csvOrders'
export { escaped } from './files/formulas'
export { type DateOrder, dateOrders, decimalIn } from './files/signs'
export { csvFile, maxTableBytes, readSheet, xlsxFile } from './files/spreadsheet'
export { publicHolidays } from './holidays'
export { type CallFailure, callJson, type CallResult } from './http'
export { type MailClient, smtpClient } from './mail/smtp'
export { pdfFile } from './papers/pdf'
export { pngOf } from './papers/png'
