export type {
  BookedCollection,
  BoughtLabel,
  CarrierClient,
  CarrierEvent,
  CollectionTerms,
  CollectionWish,
  LabelRequest,
  ListedLabel,
  ListedPayment,
  ReturnRequest,
  ManifestNote,
  OfferedServices,
  RefundStanding,
} from './carriers/carrier'
export type { ChannelClient, Fulfilment } from './channels/channel'
export type { MessengerClient, TextNews } from './messengers/messenger'
export type { HandedFile, HandOver, PartnerClient, PartnerNews } from './partners/partner'
export { beginOAuth, finishIdentity, type Identity } from './connections/oauth'
export { shopRawOrder } from './channels/keyed-shop/client'
export {
  type Access,
  type CarrierCan,
  fieldsOf,
  type Grant,
  type Kind,
  type Message,
  type SettingField,
} from './connections/kind'
export { type Tokens, tokensShape } from './connections/oauth'
export { type CallReport, watched } from './connections/watched'
export { carrierKindOf, channelKindOf, kindOf, kinds, messengerKindOf, partnerKindOf } from './connections/registry'
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
export { byCopy, type FileStore, safeName } from './store/fileStore'
export { folderStore } from './store/folderStore'
export { openS3 } from './store/openS3'
export type { S3Settings } from './store/s3Store'
export { type DateOrder, dateOrders, decimalIn } from './files/signs'
export { csvFile, csvRows, isArchive, maxTableBytes, readSheet, sheetAsCsv, xlsxFile } from './files/spreadsheet'
export { inFolder } from './inFolder'
export { backupKey, changeKey, keyIn, LostKey, openVault, type Vault } from './vault'
export { folderPlace } from './backups/folderPlace'
export { type BackupPlace, PlaceProblem } from './backups/place'
export { backupKeyName, openBytes, openFile, sealBytes, sealFile, Unsealable } from './backups/sealed'
export { sftpPlace } from './backups/sftpPlace'
export type { PrinterClient } from './printers/printer'
export { ippPrinter } from './printers/ippPrinter'
export { rawPort, rawPrinter } from './printers/rawPrinter'
export { scalePort, sicsScale } from './scales/sicsScale'
export { publicHolidays } from './holidays'
export { type Bounce, type LetterAnswer, receiveLetters } from './mail/letterbox'
export { type Place, placeNamed, zoneOf } from './places'
export {
  askStandIns,
  type CallFailure,
  callJson,
  type CallResult,
  failure,
  type Outside,
  outsideAddress,
  sendMessage,
} from './http'
export { escapedHtml } from './mail/html'
export { type MailClient, smtpClient } from './mail/smtp'
export { givenPages, withGivenPages } from './papers/given'
export { pdfFile } from './papers/pdf'
export { pngOf } from './papers/png'
export { beginTraces, noteInTrace, traced } from './traces'
