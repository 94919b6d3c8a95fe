import type { Page } from './drawing'

/** Where pages of 100 × 150 mm stand on the paper in the printer. Millimetres from the top left. */
export interface Cell {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
  /** The page lies on its side. */
  readonly turned: boolean
}

export interface SheetLayout {
  readonly id: string
  readonly name: string
  readonly width: number
  readonly height: number
  readonly cells: readonly Cell[]
}

function upOn(id: string, name: string, width: number, height: number, up: 2 | 4): SheetLayout {
  const columns = up / 2
  const cells = Array.from({ length: up }, (_, i): Cell => ({
    x: (i % columns) * (width / columns),
    y: Math.floor(i / columns) * (height / 2),
    width: width / columns,
    height: height / 2,
    turned: up === 2,
  }))
  return { id, name, width, height, cells }
}

/** The papers that labels are printed on; the first one is a label each. */
export const sheetLayouts: readonly SheetLayout[] = [
  {
    id: 'thermal',
    name: 'Labels 100 × 150 mm',
    width: 100,
    height: 150,
    cells: [{ x: 0, y: 0, width: 100, height: 150, turned: false }],
  },
  upOn('a4-2', 'A4, two on a sheet', 210, 297, 2),
  upOn('a4-4', 'A4, four on a sheet', 210, 297, 4),
  upOn('letter-2', 'Letter, two on a sheet', 215.9, 279.4, 2),
  upOn('letter-4', 'Letter, four on a sheet', 215.9, 279.4, 4),
]

/** A whole sheet of office paper, for lists. */
export const wholeSheet = (paper: 'A4' | 'Letter'): SheetLayout => {
  const [width, height] = paper === 'A4' ? [210, 297] : [215.9, 279.4]
  return { id: paper, name: paper, width, height, cells: [{ x: 0, y: 0, width, height, turned: false }] }
}

// Office printers leave an edge of some millimetres white.
const edge = 3

/**
 * How a page is put into a cell: where its top left corner comes, how much smaller it gets, and whether it is turned
 * clockwise by 90°.
 */
export function fitInto(
  cell: Cell,
  page: Page,
): { readonly x: number; readonly y: number; readonly scale: number; readonly turned: boolean } {
  const [wide, tall] = cell.turned ? [page.height, page.width] : [page.width, page.height]
  const room = cell.width === page.width && cell.height === page.height ? 0 : edge
  const scale = Math.min(1, (cell.width - 2 * room) / wide, (cell.height - 2 * room) / tall)
  return {
    x: cell.x + (cell.width - wide * scale) / 2,
    y: cell.y + (cell.height - tall * scale) / 2,
    scale,
    turned: cell.turned,
  }
}
