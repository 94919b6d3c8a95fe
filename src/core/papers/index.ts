export { squareCode } from './barcode'
export { gs1CheckDigit, s10CheckDigit } from './checkDigit'
export {
  cn22Limit,
  type Declaration,
  declarationPages,
  type DeclaredItem,
  declaredValue,
  invoicePages,
} from './customs'
export type { Mark, Page, TextMark } from './drawing'
export { type LabelAddress, type LabelContent, layoutLabel } from './label'
export { fitInto, type SheetLayout, sheetLayouts, wholeSheet } from './labelSheet'
export { layoutContainerLabel, layoutManifest } from './manifestSheet'
export { layoutMonth, type MonthTable } from './monthSheet'
export { layoutPickSheet } from './pickSheet'
export { placeholders } from './placeholders'
export {
  type BlockKind,
  blockKinds,
  blocksOf,
  layoutSlip,
  plainTemplate,
  type SlipBlock,
  type SlipContent,
  type SlipTemplate,
} from './slip'
export { pageToSvg } from './svg'
export { fillTemplate, holds } from './template'
export { pageToZpl, printerDpi, type PrinterDpi } from './zpl'
