/**
 * A page as marks on paper, in millimetres from the top left; what draws it (PDF today) stands in src/adapters/papers.
 */
export interface Page {
  readonly width: number
  readonly height: number
  readonly marks: readonly Mark[]
}

export type Mark =
  | {
      readonly kind: 'text'
      readonly x: number
      readonly y: number
      readonly text: string
      readonly size: number
      readonly bold?: boolean
      readonly mono?: boolean
      readonly align?: 'left' | 'right' | 'center'
      readonly width: number
      readonly inverse?: boolean
    }
  | {
      readonly kind: 'line'
      readonly x1: number
      readonly y1: number
      readonly x2: number
      readonly y2: number
      readonly weight: number
    }
  | { readonly kind: 'block'; readonly x: number; readonly y: number; readonly width: number; readonly height: number }
  | {
      readonly kind: 'bars'
      readonly x: number
      readonly y: number
      readonly height: number
      readonly module: number
      readonly widths: readonly number[]
      readonly text?: string
      readonly symbology?: 'code128' | 'gs1-128'
    }

export type TextMark = Extract<Mark, { kind: 'text' }>

/**
 * Breaks text into lines of at most `most` characters, at blanks where there are some; never more than `lines` lines.
 */
export function wrapText(text: string, most: number, lines: number): string[] {
  const out: string[] = []
  let rest = text
  while (rest.length > 0 && out.length < lines) {
    if (rest.length <= most) {
      out.push(rest)
      return out
    }
    const blank = rest.lastIndexOf(' ', most)
    const at = blank > most / 3 ? blank : most
    out.push(rest.slice(0, at).trim())
    rest = rest.slice(at).trim()
  }
  if (rest.length > 0 && out.length > 0)
    out[out.length - 1] = `${out[out.length - 1]!.slice(0, Math.max(1, most - 1))}…`
  return out
}
