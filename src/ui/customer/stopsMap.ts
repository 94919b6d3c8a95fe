import { geoMercator, geoPath, type GeoPermissibleObjects } from 'd3-geo'
import { feature } from 'topojson-client'
import type { GeometryCollection, Topology } from 'topojson-specification'
import near from 'world-atlas/countries-50m.json'
import far from 'world-atlas/countries-110m.json'

export interface Stop {
  readonly name: string
  readonly latitude: number
  readonly longitude: number
}

/** A map of a way: the land as one path, and where each stop is, in a box of `width` by `height`. */
export interface StopsMap {
  readonly width: number
  readonly height: number
  readonly land: string
  readonly way: string
  readonly stops: readonly { readonly name: string; readonly x: number; readonly y: number; readonly left: boolean }[]
}

const width = 480
const height = 260
const edge = 46
/** Degrees beyond which the coarse map is fine enough. */
const wide = 40

type Shapes = Topology<{ countries: GeometryCollection }>
const countries = (atlas: unknown): readonly GeoPermissibleObjects[] =>
  feature(atlas as Shapes, (atlas as Shapes).objects.countries).features
let shapes:
  { readonly near: readonly GeoPermissibleObjects[]; readonly far: readonly GeoPermissibleObjects[] } | undefined

const kept = new Map<string, StopsMap | null>()
const mostKept = 500

/**
 * The map of a way, from land that is shipped with the program; null for fewer than two stops. Remembered, as many go
 * the same way.
 */
export function stopsMap(stops: readonly Stop[]): StopsMap | null {
  if (stops.length < 2) return null
  const key = stops.map(({ latitude, longitude }) => `${latitude},${longitude}`).join(' ')
  const known = kept.get(key)
  if (known !== undefined) return known
  const map = draw(stops)
  if (kept.size >= mostKept) kept.clear()
  kept.set(key, map)
  return map
}

function draw(stops: readonly Stop[]): StopsMap {
  shapes ??= { near: countries(near), far: countries(far) }
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
  const land = (spread > wide ? shapes.far : shapes.near).map((shape) => path(shape) ?? '').join('')
  const places = stops.map(({ name, longitude, latitude }) => {
    const [x = 0, y = 0] = projection([longitude, latitude]) ?? []
    return { name, x: Math.round(x), y: Math.round(y), left: x > width * 0.62 }
  })
  return { width, height, land, way: places.map(({ x, y }) => `${x},${y}`).join(' '), stops: places }
}

const mean = (list: readonly number[]): number => list.reduce((sum, n) => sum + n, 0) / list.length
