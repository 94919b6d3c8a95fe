import { geoBounds, geoMercator, geoPath, type GeoPermissibleObjects, type GeoProjection } from 'd3-geo'
import { LRUCache } from 'lru-cache'
import { feature } from 'topojson-client'
import type { GeometryCollection, Topology } from 'topojson-specification'
import near from 'world-atlas/countries-50m.json'
import far from 'world-atlas/countries-110m.json'

export interface Stop {
  readonly name: string
  readonly latitude: number
  readonly longitude: number
}

/** A stop where it is on the map; its name is left out where it would lie on another one. */
interface Placed {
  readonly name: string
  readonly x: number
  readonly y: number
  readonly left: boolean
  readonly named: boolean
}

/** A map of a way: the land as one path, and where each stop is, in a box of `width` by `height`. */
export interface StopsMap {
  readonly width: number
  readonly height: number
  readonly land: string
  readonly way: string
  readonly stops: readonly Placed[]
}

const width = 480
const height = 260
const edge = 46
/** Degrees beyond which the coarse map is fine enough. */
const wide = 40

type Shapes = Topology<{ countries: GeometryCollection }>
/** A country, and between which degrees it lies. */
interface Country {
  readonly shape: GeoPermissibleObjects
  readonly west: number
  readonly south: number
  readonly east: number
  readonly north: number
}
const countries = (atlas: unknown): readonly Country[] =>
  feature(atlas as Shapes, (atlas as Shapes).objects.countries).features.map((shape) => {
    const [[west, south], [east, north]] = geoBounds(shape)
    // One that goes over the date line has its west in the east.
    return west <= east ? { shape, west, south, east, north } : { shape, west: -180, south, east: 180, north }
  })
/** Each of the two maps is made ready when it is first needed. */
const made = new Map<unknown, readonly Country[]>()
function countriesOf(atlas: unknown): readonly Country[] {
  const known = made.get(atlas) ?? countries(atlas)
  made.set(atlas, known)
  return known
}

const kept = new LRUCache<string, StopsMap>({ max: 1000 })

/**
 * The map of a way, from land that is shipped with the program; null for fewer than two stops. Remembered, as many go
 * the same way.
 */
export function stopsMap(stops: readonly Stop[]): StopsMap | null {
  if (stops.length < 2) return null
  const key = stops.map(({ latitude, longitude }) => `${latitude},${longitude}`).join(' ')
  const known = kept.get(key)
  if (known) return known
  const map = draw(stops)
  kept.set(key, map)
  return map
}

/** Those countries of which something can be seen; all others need not be drawn. */
function seen(list: readonly Country[], projection: GeoProjection): readonly GeoPermissibleObjects[] {
  const [first] = projection([-180, 0]) ?? []
  const [last] = projection([180, 0]) ?? []
  const [topLeft, bottomRight] = [projection.invert?.([-2, -2]), projection.invert?.([width + 2, height + 2])]
  const wholeWorld = first === undefined || last === undefined || first > -2 || last < width + 2
  // What lies on both sides of the date line is drawn from both ends of the map.
  if (wholeWorld || !topLeft || !bottomRight) return list.map(({ shape }) => shape)
  const [[west, north], [east, south]] = [topLeft, bottomRight]
  return list
    .filter((one) => one.west <= east && one.east >= west && one.south <= north && one.north >= south)
    .map(({ shape }) => shape)
}

function draw(stops: readonly Stop[]): StopsMap {
  const points = {
    type: 'MultiPoint' as const,
    coordinates: stops.map((stop): [number, number] => [stop.longitude, stop.latitude]),
  }
  const longitudes = stops.map(({ longitude }) => longitude)
  const spread = Math.max(...longitudes) - Math.min(...longitudes)
  const projection = geoMercator().fitExtent(
    [
      [edge, edge],
      [width - edge, height - edge],
    ],
    points,
  )
  // Nobody wants to see a street of the way from one house to the next.
  if (projection.scale() > 9000)
    projection
      .scale(9000)
      .center([mean(longitudes), mean(stops.map((stop) => stop.latitude))])
      .translate([width / 2, height / 2])
  projection.clipExtent([
    [-2, -2],
    [width + 2, height + 2],
  ])
  const path = geoPath(projection).digits(0)
  const land = seen(countriesOf(spread > wide ? far : near), projection)
    .map((shape) => path(shape) ?? '')
    .join('')
  const places = stops.map(({ name, longitude, latitude }) => {
    const [x = 0, y = 0] = projection([longitude, latitude]) ?? []
    return { name, x: Math.round(x), y: Math.round(y), left: x > width * 0.62 }
  })
  return { width, height, land, way: places.map(({ x, y }) => `${x},${y}`).join(' '), stops: named(places) }
}

/** Says which names there is room for: the last stop comes first, then the first one, then the others. */
function named(places: readonly Omit<Placed, 'named'>[]): Placed[] {
  const order = [places.length - 1, ...places.keys()]
  const written = new Set<number>()
  const collides = (a: Omit<Placed, 'named'>, b: Omit<Placed, 'named'>): boolean =>
    Math.abs(a.y - b.y) < 16 && Math.abs(a.x - b.x) < 90
  for (const i of order) if (![...written].some((other) => collides(places[i]!, places[other]!))) written.add(i)
  return places.map((place, i) => ({ ...place, named: written.has(i) }))
}

const mean = (list: readonly number[]): number => list.reduce((sum, n) => sum + n, 0) / list.length
