import { converter, formatHex, wcagContrast } from 'culori'
import { z } from 'zod'
import { languages } from './language'

const oklch = converter('oklch')

/** The seller's colours, as `#RRGGBB`. */
export interface Colours {
  /** What can be acted on: links, buttons, the way behind a parcel. */
  readonly accent: string
  readonly paper: string
  readonly ink: string
}

/** How the customer's page looks and what it shows. */
export interface Face {
  readonly colours: Colours
  /** By which name the picture is kept; empty for none. */
  readonly logo: string
  readonly links: readonly { readonly label: string; readonly url: string }[]
  readonly show: Readonly<Record<Shown, boolean>>
  /** Texts of the seller's own, by language; a language without one has none. */
  readonly texts: Readonly<Partial<Record<string, { readonly above: string; readonly below: string }>>>
  /**
   * Whether customers may leave a note, may report that something is wrong, and (unless it says no) may ask to send
   * something back.
   */
  readonly asks: { readonly note: boolean; readonly report: boolean; readonly returns?: boolean }
}
export const shownParts = ['items', 'address', 'events', 'map'] as const
export type Shown = (typeof shownParts)[number]

/** The page of all channels, and of those that have one of their own. */
export interface Faces {
  readonly all: Face
  readonly channels: Readonly<Record<string, Face>>
}

const colour = z.string().regex(/^#[0-9A-Fa-f]{6}$/, 'is no colour such as #5A2A55')
const words = z.string().max(1000, 'is longer than 1,000 characters')
const face = z.strictObject({
  colours: z.strictObject({ accent: colour, paper: colour, ink: colour }),
  logo: z.string().regex(/^(?:[\w-]{20,64})?$/, 'is no picture that was taken in'),
  links: z
    .array(
      z.strictObject({
        label: z.string().trim().min(1, 'is empty').max(60),
        url: z.url({ protocol: /^https?$/, error: 'is no address that begins with https://' }).max(300),
      }),
    )
    .max(6, 'are more than six'),
  show: z.strictObject({ items: z.boolean(), address: z.boolean(), events: z.boolean(), map: z.boolean() }),
  texts: z.partialRecord(z.enum(languages), z.strictObject({ above: words, below: words })),
  asks: z.strictObject({ note: z.boolean(), report: z.boolean(), returns: z.boolean().optional() }),
})
export const facesSchema = z.strictObject({ all: face, channels: z.record(z.string().min(1).max(64), face) })

export const usualFace: Face = {
  colours: { accent: '#5A2A55', paper: '#FCFBF8', ink: '#231A2E' },
  logo: '',
  links: [],
  show: { items: true, address: true, events: true, map: true },
  texts: {},
  asks: { note: true, report: true, returns: true },
}
export const usualFaces: Faces = { all: usualFace, channels: {} }

/** WCAG 2.2, 1.4.3: text on its ground. */
export const leastContrast = 4.5

/** The contrast of two colours (WCAG 2.2: 1 to 21). */
export const contrast = (a: string, b: string): number => wcagContrast(a, b)

/**
 * The colour nearest to a wanted one (same hue, other lightness) that can be read on a ground; the wanted one if it
 * can.
 */
function readableOn(wanted: string, ground: string): string {
  if (contrast(wanted, ground) >= leastContrast) return wanted.toUpperCase()
  const from = oklch(wanted)!
  const darker = contrast('#000000', ground) >= contrast('#FFFFFF', ground)
  const steps = Array.from({ length: 101 }, (_, i) => from.l + ((darker ? -1 : 1) * i) / 100)
  for (const l of steps) {
    if (l < 0 || l > 1) break
    const tried = formatHex({ ...from, l })
    if (contrast(tried, ground) >= leastContrast) return tried.toUpperCase()
  }
  return darker ? '#000000' : '#FFFFFF'
}

export interface ReadableColours extends Colours {
  readonly onAccent: string
}
/**
 * Colours that can be read (WCAG 2.2, 1.4.3): those of the seller, moved as little as it takes; and what is written on
 * the accent.
 */
export function readable({ accent, paper, ink }: Colours): ReadableColours {
  const fixed = readableOn(accent, paper)
  return {
    paper: paper.toUpperCase(),
    ink: readableOn(ink, paper),
    accent: fixed,
    onAccent: contrast('#FFFFFF', fixed) >= contrast('#000000', fixed) ? '#FFFFFF' : '#000000',
  }
}
