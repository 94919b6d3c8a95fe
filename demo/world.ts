import type { SlipBlock } from '@/core/papers'
import type { World } from '@/core/rulebook'
import { demoCarriers, demoServices, demoTariffs, remoteAreas } from './carriers'
import { demoItems } from './items'

const livePlantsBlocks: readonly SlipBlock[] = [
  { kind: 'heading', text: 'Mossgill Aquatics: live plants' }, { kind: 'order' }, { kind: 'barcode' }, { kind: 'address' }, { kind: 'rule' }, { kind: 'items', bars: true },
  { kind: 'text', text: 'Open at once, {{ buyer.firstName }}. Rinse the plants in lukewarm water and plant them today.', texts: { NL: 'Meteen openen, {{ buyer.firstName }}. Spoel de planten in lauw water en plant ze vandaag.', DE: 'Bitte sofort öffnen, {{ buyer.firstName }}. Die Pflanzen in lauwarmem Wasser spülen und heute einsetzen.', FR: 'À ouvrir tout de suite, {{ buyer.firstName }}. Rincez les plantes à l’eau tiède et plantez-les aujourd’hui.' } },
  { kind: 'offer', text: 'Five plants more? The sixth is free until spring.', when: 'order.quantity > 2' },
  { kind: 'returns', text: 'Arrived limp? Send a picture to plants@mossgill.example within 24 hours and name order {{ order.number }}.', size: 'small' },
]

/** The world of Mossgill Aquatics, as far as its rules look at it. */
export const demoWorld: World = {
  rates: { home: 'EUR', micro: { GBP: 1_163_500, PLN: 235_200, CHF: 1_071_000, NOK: 85_400, SEK: 91_200, DKK: 134_040, USD: 861_000, XDR: 1_160_000 } },
  locations: [
    { id: 'ghent', name: 'Ghent', country: 'BE', timeZone: 'Europe/Brussels', address: { company: 'Mossgill Aquatics', lines: ['Wiedauwkaai 23'], postcode: '9000', city: 'Gent', phone: '+32 9 555 01 20' } },
    { id: 'poznan', name: 'Poznań', country: 'PL', timeZone: 'Europe/Warsaw', address: { company: 'Mossgill Aquatics Polska', lines: ['ul. Dolna Wilda 126'], postcode: '61-501', city: 'Poznań', phone: '+48 61 555 01 20' } },
    { id: 'leeds', name: 'Leeds (partner)', country: 'GB', timeZone: 'Europe/London', address: { company: 'Mossgill c/o Aire Storage', lines: ['Whitehall Road 41'], postcode: 'LS12 1BE', city: 'Leeds', phone: '+44 113 555 0120' } },
  ],
  presets: [
    { id: 'letter', name: 'Letter mailer', inner: [340, 240, 30], outer: [350, 250, 30], tare: 25, limit: 1900, cost: 18 },
    { id: 'bag', name: 'Padded bag', inner: [340, 260, 80], outer: [350, 270, 85], tare: 45, limit: 3000, cost: 24 },
    { id: 'box-s', name: 'Box S', inner: [240, 180, 120], outer: [250, 190, 130], tare: 160, limit: 8000, cost: 38 },
    { id: 'box-m', name: 'Box M', inner: [380, 280, 200], outer: [390, 290, 210], tare: 310, limit: 15_000, cost: 62 },
    { id: 'box-l', name: 'Box L', inner: [580, 400, 380], outer: [590, 410, 390], tare: 720, limit: 28_000, cost: 129 },
    { id: 'box-plants', name: 'Plant box, vented', inner: [360, 260, 160], outer: [370, 270, 170], tare: 280, limit: 6000, cost: 95 },
    { id: 'box-lamp', name: 'Lamp carton', inner: [960, 160, 110], outer: [970, 170, 120], tare: 420, limit: 8000, cost: 88 },
    { id: 'double-60', name: 'Double box, tank 60', inner: [700, 400, 460], outer: [760, 460, 520], tare: 2400, limit: 25_000, cost: 390 },
    { id: 'double-120', name: 'Double box, tank 120', inner: [900, 500, 560], outer: [960, 560, 620], tare: 3600, limit: 27_000, cost: 560 },
    { id: 'flat-cabinet', name: 'Flat crate', inner: [1240, 600, 220], outer: [1260, 620, 240], tare: 1900, limit: 29_500, cost: 720 },
  ],
  carriers: demoCarriers,
  services: demoServices,
  tariffs: demoTariffs,
  slips: [
    { id: 'standard', name: 'Standard slip', heading: 'Mossgill Aquatics', closing: 'Thank you, {{ buyer.firstName }}. Something missing or broken? Write to hello@mossgill.example within 14 days and name order {{ order.number }}.' },
    { id: 'live-plants', name: 'Live plants', blocks: livePlantsBlocks, heading: 'Mossgill Aquatics: live plants', closing: 'Open at once. Rinse the plants in lukewarm water and plant them today, {{ buyer.firstName }}. Arrived limp? Send a picture to plants@mossgill.example within 24 hours.' },
    { id: 'trade', name: 'Trade desk', heading: 'Mossgill Aquatics, Trade Desk', closing: 'Delivery note for order {{ order.number }} of {{ order.placed }}. The invoice follows by mail.' },
  ],
  items: demoItems.map(({ price: _price, ...card }) => card),
  wordings: [
    { channel: 'mossgill-shop', rows: [
      { wording: 'Free', gives: { speed: 'economy' } },
      { wording: 'Standard', gives: { speed: 'standard' } },
      { wording: 'Exp. 2-day', gives: { speed: 'express' } },
      { wording: 'Priority 1-day', countries: ['BE', 'NL'], weight: [0, 20_000], gives: { speed: 'next day' } },
      { wording: 'Priority*', gives: { speed: 'express' } },
    ] },
  ],
  remoteAreas,
  dutyRates: [
    { country: 'GB', hs: '', dutyPermille: 30, taxPermille: 200, dutyFreeUpTo: 15_700 }, { country: 'GB', hs: '0602', dutyPermille: 60, taxPermille: 200, dutyFreeUpTo: 15_700 }, { country: 'CH', hs: '', dutyPermille: 0, taxPermille: 81, taxFreeUpTo: 6100 },
    { country: 'NO', hs: '', dutyPermille: 0, taxPermille: 250 }, { country: 'US', hs: '', dutyPermille: 100, taxPermille: 0 },
  ],
  customsUnion: ['AT', 'BE', 'BG', 'HR', 'CY', 'CZ', 'DK', 'EE', 'FI', 'FR', 'DE', 'GR', 'HU', 'IE', 'IT', 'LV', 'LT', 'LU', 'MT', 'NL', 'PL', 'PT', 'RO', 'SK', 'SI', 'ES', 'SE'],
}
