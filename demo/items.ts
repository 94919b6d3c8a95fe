import { grams, measured, type Plain, type Size } from '@/core/units'
import type { Handling, ItemCard } from '@/core/order'

const item = (
  sku: string,
  title: string,
  price: string,
  weight: number,
  size: Plain<Size>,
  hsCode: string,
  origin: string,
  tags: readonly string[] = [],
  dangerousGoods = '',
  handling: readonly Handling[] = [],
): ItemCard & { price: string } => ({
  sku,
  title,
  price,
  weight: grams(weight),
  size: measured<Size>(size),
  hsCode,
  origin,
  tags,
  dangerousGoods,
  ...(handling.length > 0 ? { handling } : {}),
})

/**
 * Numbers of the house, as a seller gives goods without one (GS1 General Specifications: prefix 20, for use within a
 * company).
 */
function numbered<T extends ItemCard>(card: T, i: number): T {
  const digits = `20${String(1000 + i).padStart(10, '0')}`
  const sum = [...digits].reduce((all, digit, at) => all + Number(digit) * (at % 2 === 0 ? 1 : 3), 0)
  return { ...card, gtins: [`${digits}${(10 - (sum % 10)) % 10}`] }
}

/** What Mossgill Aquatics sells. Weights in grams, sizes in millimetres. */
export const demoItems: readonly (ItemCard & { readonly price: string })[] = [
  item('PLT-ANUB-NANA', 'Anubias nana on root', '12.90', 180, [180, 120, 80], '0602.90', 'PL', ['live'], '', ['live']),
  item('PLT-VALL-SPIR', 'Vallisneria spiralis, bunch', '4.50', 60, [260, 60, 40], '0602.90', 'NL', ['live'], '', [
    'live',
  ]),
  item('PLT-CRYP-WEND', 'Cryptocoryne wendtii, pot', '6.20', 110, [160, 70, 70], '0602.90', 'NL', ['live'], '', [
    'live',
  ]),
  item('PLT-MOSS-JAVA', 'Java moss, 200 ml cup', '7.80', 90, [110, 110, 70], '0602.90', 'BE', ['live'], '', ['live']),
  item('PLT-CARP-SET', 'Carpet plant set, 6 cups', '29.90', 520, [330, 220, 80], '0602.90', 'NL', ['live'], '', [
    'live',
  ]),
  item('TNK-060', 'Glass tank 60 l, clear glass', '89.00', 9800, [620, 320, 380], '7013.99', 'PL', ['glass'], '', [
    'fragile',
    'this side up',
    'not stackable',
  ]),
  item('TNK-120', 'Glass tank 120 l, clear glass', '179.00', 21500, [820, 420, 480], '7013.99', 'PL', ['glass'], '', [
    'fragile',
    'this side up',
    'not stackable',
  ]),
  item('TNK-NANO', 'Nano cube 20 l', '49.00', 4300, [290, 290, 330], '7013.99', 'PL', ['glass'], '', [
    'fragile',
    'this side up',
    'not stackable',
  ]),
  item(
    'CAB-350',
    'Cabinet aquarium 350 l, oak',
    '1900.00',
    28900,
    [1180, 540, 160],
    '9403.60',
    'PL',
    ['glass', 'cabinet'],
    '',
    ['fragile', 'not stackable'],
  ),
  item('LMP-LED-60', 'LED lamp 60 cm', '74.50', 1250, [640, 130, 80], '9405.42', 'DE', ['lamp']),
  item('LMP-LED-90', 'LED lamp 90 cm', '109.00', 1900, [940, 130, 80], '9405.42', 'DE', ['lamp']),
  item('LMP-CLIP', 'Clip lamp with battery', '38.00', 420, [210, 120, 70], '9405.42', 'DE', ['lamp'], 'UN 3481'),
  item('CO2-CART-3', 'CO2 cartridges, 3 × 95 g', '24.90', 980, [180, 130, 60], '2811.21', 'DE', [], 'UN 1013'),
  item('CO2-DIFF', 'CO2 diffuser, glass', '17.50', 140, [150, 80, 60], '7017.20', 'CZ', ['glass'], '', ['fragile']),
  item('SUB-20KG', 'Substrate, 20 kg bag', '32.00', 20200, [560, 380, 110], '2530.90', 'DE', ['heavy']),
  item('SUB-05KG', 'Substrate, 5 kg bag', '11.50', 5100, [340, 240, 80], '2530.90', 'DE'),
  item('SND-10KG', 'River sand, 10 kg bag', '14.00', 10100, [420, 300, 90], '2505.90', 'NL', ['heavy']),
  item('TLS-TWEEZ', 'Plant tweezers, 27 cm', '9.90', 70, [275, 25, 15], '8203.20', 'PL', ['letter']),
  item('TLS-SCISS', 'Wave scissors, 25 cm', '13.90', 95, [255, 60, 15], '8213.00', 'PL', ['letter']),
  item('TST-STRIP', 'Test strips, tube of 50', '10.50', 45, [125, 35, 30], '3822.19', 'DE', ['letter']),
  item('CAR-FERT-500', 'Fertiliser 500 ml', '15.80', 590, [220, 75, 75], '3105.10', 'BE'),
  item('CAR-COND-250', 'Water conditioner 250 ml', '8.40', 310, [180, 60, 60], '3824.99', 'BE'),
  item('FLT-EXT-250', 'Canister filter 250', '119.00', 3900, [380, 240, 240], '8421.21', 'IT'),
  item('FLT-SPONGE', 'Filter sponge, pack of 4', '7.20', 85, [200, 140, 60], '3921.13', 'DE'),
  item('HTR-100', 'Heater 100 W', '27.90', 380, [330, 60, 50], '8516.10', 'IT', ['glass'], '', ['fragile']),
].map(numbered)
