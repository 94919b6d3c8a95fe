import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import type { Item } from '@/core/order'
import { pack, type PackagePreset } from '@/core/packing'
import { grams, millimetres, money, measured } from '@/core/units'
import { seeded, type Random } from '../demo/random'
import { demoWorld } from '../demo/world'

interface Box {
  readonly name: string
  readonly width: number
  readonly height: number
  readonly depth: number
}
/** Width, height, depth, in the peer's order; the height points up. */
interface PeerPiece {
  sourceItem: { name: string }
  position: readonly [number, number, number]
  dimension: readonly [number, number, number]
}
interface Peer {
  pack3D: (options: {
    bins: readonly (Box & { maxWeight: number })[]
    items: readonly (Box & { weight: number })[]
  }) => { packedBins: { items: PeerPiece[] }[]; unfitItems: { name: string }[] }
}
// As ECMAScript modules: the other half of this package does not load.
const { pack3D } = (await import(
  pathToFileURL(join(process.cwd(), 'bench/node_modules/binpackingjs/dist/esm/3d/index.js')).href
)) as Peer

const presets = measured<readonly PackagePreset[]>([
  ...demoWorld.presets,
  { id: 'cube', name: 'Cube', inner: [300, 300, 300], outer: [310, 310, 310], tare: 350, limit: 20_000, cost: 75 },
  { id: 'tube', name: 'Tube', inner: [700, 100, 100], outer: [710, 110, 110], tare: 200, limit: 5000, cost: 45 },
])

const item = (random: Random, n: number, quantity: number): Item => ({
  line: String(n),
  sku: `S${n}`,
  title: '',
  quantity,
  unitWeight: grams(50 + random.below(2500)),
  unitPrice: money(100, 'EUR'),
  size: [millimetres(40 + random.below(240)), millimetres(30 + random.below(180)), millimetres(20 + random.below(120))],
  tags: [],
  dangerousGoods: '',
  hsCode: '',
  origin: '',
})
const wishes = { preset: null, added: grams(0) }

/** How fast, and how well against a package for the same job. */
export function benchPacking(say: (line: string) => void): void {
  const random = seeded(5)
  const orders = Array.from({ length: 20_000 }, () =>
    Array.from({ length: 1 + random.below(6) }, (_, n) => item(random, n, 1)),
  )
  for (const order of orders.slice(0, 2000)) pack(order, presets, wishes)
  const began = performance.now()
  for (const order of orders) pack(order, presets, wishes)
  const seconds = (performance.now() - began) / 1000
  say(
    `packing: ${orders.length} orders of 1–6 items into ${presets.length} presets, ${Math.round(orders.length / seconds)} orders/s`,
  )
  const large = Array.from({ length: 200 }, () => Array.from({ length: 50 }, (_, n) => item(random, n, 1)))
  const times = large
    .map((order) => {
      const start = performance.now()
      pack(order, presets, wishes)
      return performance.now() - start
    })
    .sort((a, b) => a - b)
  say(`packing: 50 items, median ${times[100]!.toFixed(1)} ms, 95 % ${times[190]!.toFixed(1)} ms`)
  compare(
    Array.from({ length: 1000 }, () =>
      Array.from({ length: 1 + random.below(12) }, (_, n) => item(random, n, 1 + random.below(2))),
    ),
    say,
  )
}

function compare(orders: readonly (readonly Item[])[], say: (line: string) => void): void {
  let [better, worse, parcels, peerParcels, bound, dearer, floating] = [0, 0, 0, 0, 0, 0, 0]
  let [ownMs, peerMs] = [0, 0]
  const costOf = (ids: readonly string[]): number =>
    ids.reduce((sum, id) => sum + (presets.find((preset) => preset.id === id)?.cost ?? 0), 0)
  for (const order of orders) {
    let start = performance.now()
    const packed = pack(order, presets, wishes)
    ownMs += performance.now() - start
    start = performance.now()
    const peer = peerPack(order)
    peerMs += performance.now() - start
    if (!packed.ok || peer === null) continue
    const own = packed.parcels.map((parcel) => parcel.preset)
    const others = peer.map(({ id }) => id)
    parcels += own.length
    peerParcels += peer.length
    bound += lowerBound(order)
    const [a, b] = [costOf(own), costOf(others)]
    if (own.length < peer.length || (own.length === peer.length && a < b)) better++
    if (own.length > peer.length || (own.length === peer.length && a > b)) worse++
    if (a <= b) continue
    dearer++
    if (!peer.every(({ pieces }) => stands(pieces))) floating++
  }
  say(
    `packing against binpackingjs, 1,000 orders: better in ${better}, worse in ${worse} (dearer sum in ${dearer}, in ${floating} of them the peer's pieces would float); ${parcels} parcels, ${peerParcels} of the peer, at least ${bound} by volume and weight; ${(peerMs / ownMs).toFixed(1)} times as fast`,
  )
}

/** The least number of parcels that volume (with a tenth of air) and weight allow, were every box the largest. */
function lowerBound(order: readonly Item[]): number {
  const volume = order.reduce((sum, { size, quantity }) => sum + size![0] * size![1] * size![2] * quantity, 0)
  const weight = order.reduce((sum, { unitWeight, quantity }) => sum + unitWeight! * quantity, 0)
  const most = Math.max(...presets.map(({ inner }) => inner[0] * inner[1] * inner[2])) * 0.9
  return Math.max(1, Math.ceil(volume / most), Math.ceil(weight / Math.max(...presets.map(({ limit }) => limit))))
}

/**
 * The same plan with the peer's way of filling a box: the cheapest preset that takes all, else the one that takes
 * most, and again.
 */
function peerPack(order: readonly Item[]): { id: string; pieces: readonly PeerPiece[] }[] | null {
  let rest = order.flatMap((one, n) =>
    Array.from({ length: one.quantity }, (_, k) => ({
      name: `${n}-${k}`,
      width: one.size![0],
      height: one.size![1],
      depth: one.size![2],
      weight: one.unitWeight as number,
    })),
  )
  const sorted = [...presets].sort(
    (a, b) =>
      (a.cost ?? 0) - (b.cost ?? 0) || a.inner[0] * a.inner[1] * a.inner[2] - b.inner[0] * b.inner[1] * b.inner[2],
  )
  const used: { id: string; pieces: readonly PeerPiece[] }[] = []
  while (rest.length > 0 && used.length < 50) {
    let best: { id: string; left: typeof rest; share: number; pieces: readonly PeerPiece[] } | null = null
    for (const preset of sorted) {
      const usable = preset.inner[0] * preset.inner[1] * preset.inner[2] * 0.9
      let volume = 0
      const offered = rest.filter((one) => {
        const next = volume + one.width * one.height * one.depth
        if (next > usable) return false
        volume = next
        return true
      })
      const result = pack3D({
        bins: [
          {
            name: preset.id,
            width: preset.inner[0],
            height: preset.inner[1],
            depth: preset.inner[2],
            maxWeight: preset.limit,
          },
        ],
        items: offered,
      })
      const pieces = result.packedBins[0]?.items ?? []
      const inside = new Set(pieces.map(({ sourceItem }) => sourceItem.name))
      const left = rest.filter(({ name }) => !inside.has(name))
      const share = rest
        .filter(({ name }) => inside.has(name))
        .reduce((sum, one) => sum + one.width * one.height * one.depth, 0)
      if (left.length === 0) {
        best = { id: preset.id, left, share, pieces }
        break
      }
      if (share > (best?.share ?? 0)) best = { id: preset.id, left, share, pieces }
    }
    if (!best) return null
    used.push({ id: best.id, pieces: best.pieces })
    rest = best.left
  }
  return used
}

/**
 * Whether every piece rests on the bottom, or with half of its base on others: what Gharry asks of its own. The peer
 * does not say which way is up: any may be.
 */
function stands(pieces: readonly PeerPiece[]): boolean {
  return ([0, 1, 2] as const).some((up) => pieces.every((piece) => restsOn(piece, pieces, up)))
}

function restsOn(piece: PeerPiece, pieces: readonly PeerPiece[], up: 0 | 1 | 2): boolean {
  const floor = piece.position[up]
  if (floor === 0) return true
  const [x, y] = ([0, 1, 2] as const).filter((axis) => axis !== up)
  const shared = (other: PeerPiece, axis: 0 | 1 | 2): number =>
    Math.max(
      0,
      Math.min(piece.position[axis] + piece.dimension[axis], other.position[axis] + other.dimension[axis]) -
        Math.max(piece.position[axis], other.position[axis]),
    )
  const held = pieces
    .filter((other) => other.position[up] + other.dimension[up] === floor)
    .reduce((sum, other) => sum + shared(other, x!) * shared(other, y!), 0)
  return held * 2 >= piece.dimension[x!] * piece.dimension[y!]
}
