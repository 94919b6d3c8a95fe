import { Resvg } from '@resvg/resvg-js'
import { takeItemPicture } from '@/usecases/intake/itemPictures'
import type { Application } from '@/usecases/shared/application'
import { demoItems } from './items'

/* Drawings of what Mossgill sells: an outline for each kind of thing, told apart by colour. */

const leaf = (x: number, turn: number, length: number): string =>
  `<path transform="rotate(${turn} ${x} 190)" d="M${x} 190 q-22 -${length / 2} 0 -${length} q22 ${length / 2} 0 ${length}z"/>`
const pot = '<path fill="#8a6a50" d="M84 186h72l-10 40h-52z"/>'
const tank = (height: number): string =>
  `<rect x="30" y="${214 - height}" width="180" height="${height}" fill="none" stroke-width="7" stroke="currentColor"/><rect x="34" y="${234 - height}" width="172" height="${height - 24}" opacity=".25"/>`
const bag = (words: string): string =>
  `<path d="M62 60h116l14 154H48z"/><path fill="#fff" opacity=".8" d="M76 112h88v54H76z"/><text x="120" y="150" font-size="34" text-anchor="middle" fill="#222" font-family="DejaVu Sans Condensed">${words}</text>`
const bottle = (words: string): string =>
  `<path d="M102 30h36v34l24 26v126H78V90l24-26z"/><path fill="#fff" opacity=".8" d="M84 126h72v50H84z"/><text x="120" y="160" font-size="28" text-anchor="middle" fill="#222" font-family="DejaVu Sans Condensed">${words}</text>`
const lamp = (width: number): string =>
  `<rect x="${120 - width / 2}" y="84" width="${width}" height="30" rx="4"/><path opacity=".3" d="M${130 - width / 2} 120h${width - 20}l24 84H${106 - width / 2}z"/>`

const drawings: Readonly<Record<string, readonly [colour: string, drawing: string]>> = {
  'PLT-ANUB-NANA': [
    '#2f6b3a',
    `${leaf(120, -50, 110)}${leaf(120, 0, 120)}${leaf(120, 48, 110)}<path fill="#6b4a32" d="M60 190h120l-14 24H74z"/>`,
  ],
  'PLT-VALL-SPIR': [
    '#4b9a3f',
    `${[-30, -15, 0, 14, 28].map((turn) => leaf(120, turn, 165)).join('')}<rect fill="#b9a27c" x="96" y="176" width="48" height="16"/>`,
  ],
  'PLT-CRYP-WEND': ['#7c5a2c', `${[-55, -25, 5, 35, 60].map((turn) => leaf(120, turn, 120)).join('')}${pot}`],
  'PLT-MOSS-JAVA': [
    '#3d7d4c',
    '<path fill="none" stroke="#999" stroke-width="6" d="M70 70l14 146h72l14-146z"/><path d="M76 120q20-24 44-6 26-20 46 4l-12 94H86z"/>',
  ],
  'PLT-CARP-SET': [
    '#58a55a',
    [0, 1, 2, 3, 4, 5]
      .map((i) => `<circle cx="${66 + (i % 3) * 54}" cy="${92 + Math.floor(i / 3) * 70}" r="24"/>`)
      .join(''),
  ],
  'TNK-060': ['#3f7f9b', tank(120)],
  'TNK-120': ['#2f6680', tank(170)],
  'TNK-NANO': [
    '#5aa0b8',
    '<rect x="62" y="84" width="116" height="130" fill="none" stroke-width="7" stroke="currentColor"/><rect x="66" y="108" width="108" height="102" opacity=".25"/>',
  ],
  'LMP-LED-60': ['#b48a1e', lamp(120)],
  'LMP-LED-90': ['#a07512', lamp(200)],
  'LMP-CLIP': ['#c09a3a', '<path d="M70 50h100v26H70zM114 76h14v90h-14zM92 166h58v44H92z"/>'],
  'CO2-CART-3': [
    '#50606c',
    [60, 120, 180].map((x) => `<path d="M${x - 8} 40h16v18l14 20v136h-44V78l14-20z"/>`).join(''),
  ],
  'CO2-DIFF': [
    '#6f8ba0',
    '<path fill="none" stroke="currentColor" stroke-width="9" d="M150 30v120q0 40-40 40"/><circle cx="96" cy="190" r="28"/>',
  ],
  'SUB-20KG': ['#6b4f3a', bag('20')],
  'SUB-05KG': ['#86664c', bag('5')],
  'SND-10KG': ['#c2a676', bag('10')],
  'TLS-TWEEZ': [
    '#5b6470',
    '<path fill="none" stroke="currentColor" stroke-width="11" d="M70 210L118 40M170 210L122 40"/>',
  ],
  'TLS-SCISS': [
    '#5b6470',
    '<path fill="none" stroke="currentColor" stroke-width="10" d="M86 170L166 34M154 170L74 34"/><g fill="none" stroke="currentColor" stroke-width="10"><circle cx="76" cy="192" r="24"/><circle cx="164" cy="192" r="24"/></g>',
  ],
  'TST-STRIP': [
    '#8a4f7d',
    '<path d="M88 40h64v24H88z"/><rect x="84" y="68" width="72" height="146" rx="6" opacity=".7"/>',
  ],
  'CAR-FERT-500': ['#3b7a57', bottle('500')],
  'CAR-COND-250': ['#356a9a', bottle('250')],
  'FLT-EXT-250': [
    '#3e4a55',
    '<rect x="66" y="70" width="108" height="146" rx="8"/><path d="M82 40h20v30H82zM138 40h20v30h-20z"/>',
  ],
  'FLT-SPONGE': [
    '#2b2f36',
    [0, 1, 2, 3]
      .map((i) => `<rect x="${54 + (i % 2) * 70}" y="${66 + Math.floor(i / 2) * 72}" width="60" height="62" rx="8"/>`)
      .join(''),
  ],
  'HTR-100': [
    '#a4483c',
    '<rect x="102" y="34" width="36" height="180" rx="16"/><path fill="none" stroke="#333" stroke-width="8" d="M120 34V12h60"/>',
  ],
}

/** Gives the demo's items their pictures, as a person does who chooses files that are called as the SKUs. */
export async function pictureItems(gharry: Application): Promise<void> {
  for (const { sku } of demoItems) {
    const drawn = drawings[sku]
    if (!drawn) continue
    const [colour, drawing] = drawn
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="240" height="240" viewBox="0 0 240 240"><rect width="240" height="240" fill="#fff"/><g fill="${colour}" stroke="none" color="${colour}">${drawing}</g></svg>`
    const taken = await takeItemPicture(gharry, `${sku}.png`, new Resvg(svg).render().asPng())
    if (!taken.ok) throw new Error(taken.sentence)
  }
}
