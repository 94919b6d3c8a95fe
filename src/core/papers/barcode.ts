import bwipjs from 'bwip-js'

export type Symbology = 'code128' | 'gs1-128'

/** Dots of a 203 dpi label printer are this wide; bars are whole dots, or scanners misread them. */
export const dot203 = 25.4 / 203

/**
 * The widths of bars and spaces, in modules, beginning with a bar. GS1-128 takes the bare digits of an SSCC with its
 * application identifier 00 (GS1 General Specifications, section 3.2). Null when the text cannot be encoded.
 */
export function barWidths(text: string, symbology: Symbology): readonly number[] | null {
  // Printable ASCII only: anything else would be encoded as bytes that no scanner hands on as text.
  if (!/^[\x20-\x7e]+$/.test(text)) return null
  try {
    const [symbol] = bwipjs.raw(
      symbology === 'gs1-128'
        ? { bcid: 'gs1-128', text: `(${text.slice(0, 2)})${text.slice(2)}` }
        : { bcid: 'code128', text },
    )
    return symbol && 'sbs' in symbol ? [...(symbol.sbs as readonly number[])] : null
  } catch {
    return null
  }
}

/** The widest module, in whole 203 dpi dots, with which the bars still fit; null when not even one dot does. */
export function moduleFor(widths: readonly number[], available: number): number | null {
  const modules = widths.reduce((sum, width) => sum + width, 0)
  const dots = Math.min(4, Math.floor(available / (modules * dot203)))
  return dots >= 1 ? dots * dot203 : null
}

/**
 * A QR code (ISO/IEC 18004) of a text as squares: how many there are on a side, and the dark ones, line by line. Null
 * when the text cannot be encoded.
 */
export function squareCode(text: string): { readonly side: number; readonly dark: readonly boolean[] } | null {
  try {
    const [symbol] = bwipjs.raw({ bcid: 'qrcode', text })
    if (!symbol || !('pixs' in symbol)) return null
    return { side: Number(symbol.pixx), dark: [...(symbol.pixs as readonly number[])].map((pixel) => pixel === 1) }
  } catch {
    return null
  }
}
