'use client'
import { homeSign } from '../kit/locale'
import { registerMap } from 'echarts/core'
import countries from 'i18n-iso-countries'
import { useMemo, useState } from 'react'
import { feature } from 'topojson-client'
import type { GeometryCollection, Topology } from 'topojson-specification'
import atlas from 'world-atlas/countries-110m.json'
import type { LedgerView } from '@/usecases/ledger/showLedger'
import { Button } from '../kit/Button'
import { Chart } from '../kit/Chart'
import { count, homeMoney } from '../kit/format'
import { countryName } from '../kit/countryName'

type Shapes = Topology<{ countries: GeometryCollection<{ name: string }> }>
type MapInput = Parameters<typeof registerMap>[1]

/** The atlas knows countries by their ISO 3166-1 numbers; Kosovo has none. */
const codeOf = (id: unknown, name: string): string =>
  name === 'Kosovo' ? 'XK' : (countries.numericToAlpha2(String(id)) ?? name)

type Ring = number[][]
/** A land that crosses the meridian of 180° goes on beyond it, where it would be drawn across the whole map. */
const unbroken = (ring: Ring): Ring => {
  const longitudes = ring.map(([longitude = 0]) => longitude)
  return Math.max(...longitudes) - Math.min(...longitudes) > 180
    ? ring.map(([longitude = 0, latitude = 0]) => [longitude < 0 ? longitude + 360 : longitude, latitude])
    : ring
}
const whole = (geometry: { type: string; coordinates?: unknown }): object => {
  if (geometry.type === 'Polygon') return { ...geometry, coordinates: (geometry.coordinates as Ring[]).map(unbroken) }
  return geometry.type === 'MultiPolygon'
    ? { ...geometry, coordinates: (geometry.coordinates as Ring[][]).map((rings) => rings.map(unbroken)) }
    : geometry
}

const shapes = feature(atlas as unknown as Shapes, (atlas as unknown as Shapes).objects.countries)
registerMap('world', {
  ...shapes,
  features: shapes.features
    .filter(({ properties }) => properties.name !== 'Antarctica')
    .map((one) => ({
      ...one,
      geometry: whole(one.geometry),
      properties: { name: codeOf(one.id, one.properties.name) },
    })),
} as unknown as MapInput)

const radians = Math.PI / 180
/** Mercator: angles are kept, so that countries have the shape that people know. */
const mercator = {
  project: ([longitude = 0, latitude = 0]: number[]): number[] => [
    longitude,
    -Math.log(Math.tan(Math.PI / 4 + (Math.max(-80, Math.min(80, latitude)) * radians) / 2)) / radians,
  ],
  unproject: ([x = 0, y = 0]: number[]): number[] => [
    x,
    (2 * Math.atan(Math.exp(-y * radians)) - Math.PI / 2) / radians,
  ],
}
const views = {
  Europe: { center: mercator.project([12, 53.5]), zoom: 5 },
  World: { center: mercator.project([10, 30]), zoom: 1.1 },
}

/** Where the money for labels goes to. The table beside it has the same numbers. */
export function SpendMap({ rows }: { rows: LedgerView['byCountry'] }) {
  const [view, setView] = useState<keyof typeof views>('Europe')
  const option = useMemo(() => {
    const style = getComputedStyle(document.documentElement)
    const ink = (name: string): string => style.getPropertyValue(`--${name}`).trim()
    const labels = new Map(rows.map((row) => [row.key, Number(row.labels)]))
    return {
      tooltip: {
        trigger: 'item',
        formatter: ({ name, value }: { name: string; value?: number }) =>
          `${countryName(name)}: ${value ? `${homeMoney(Math.round(value * 100))} for ${count(labels.get(name) ?? 0)} labels` : 'nothing'}`,
      },
      // The greatest country would leave the others pale: the scale goes by steps.
      visualMap: {
        type: 'piecewise',
        pieces: steps(rows),
        left: 0,
        bottom: 0,
        itemWidth: 12,
        itemHeight: 10,
        inRange: { color: [ink('act-soft'), ink('act')] },
        outOfRange: { color: ink('paper') },
        textStyle: { color: ink('soft'), fontFamily: style.fontFamily, fontSize: 12 },
      },
      series: [
        {
          type: 'map',
          map: 'world',
          projection: mercator,
          ...views[view],
          data: rows.map((row) => ({ name: row.key, value: Number(row.amount) / 100 })),
          itemStyle: { areaColor: ink('paper'), borderColor: ink('hair') },
          emphasis: { label: { show: false }, itemStyle: { areaColor: ink('wait-mark') } },
          select: { disabled: true },
          label: { show: false },
        },
      ],
    }
  }, [rows, view])
  return (
    <>
      <div className="flex items-center">
        <h2 className="text-small text-soft">Where it goes to</h2>
        <span className="ml-auto flex gap-1">
          {(Object.keys(views) as (keyof typeof views)[]).map((name) => (
            <Button
              key={name}
              kind="quiet"
              aria-pressed={view === name}
              className={view === name ? 'font-semibold' : ''}
              onClick={() => setView(name)}
            >
              {name}
            </Button>
          ))}
        </span>
      </div>
      <Chart
        option={option}
        axes={false}
        height={324}
        label="Spend by country on a map; the numbers stand in the table of countries"
      />
    </>
  )
}

/** Four steps, each a third of the one above it. */
function steps(rows: LedgerView['byCountry']): { gt: number; lte?: number; label: string }[] {
  const most = Math.max(1, ...rows.map((row) => Number(row.amount) / 100))
  const ends = [most / 27, most / 9, most / 3].map((end) => Number(end.toPrecision(1)))
  return [
    { gt: ends[2]!, label: `above ${count(ends[2]!)} ${homeSign()}` },
    { gt: ends[1]!, lte: ends[2]!, label: `to ${count(ends[2]!)} ${homeSign()}` },
    { gt: ends[0]!, lte: ends[1]!, label: `to ${count(ends[1]!)} ${homeSign()}` },
    { gt: 0, lte: ends[0]!, label: `to ${count(ends[0]!)} ${homeSign()}` },
  ]
}
