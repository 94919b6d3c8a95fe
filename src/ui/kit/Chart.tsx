'use client'
import { BarChart, LineChart, MapChart, SankeyChart } from 'echarts/charts'
import { GridComponent, LegendComponent, TooltipComponent, VisualMapComponent } from 'echarts/components'
import { init, use as registerParts, type EChartsCoreOption } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { useEffect, useRef } from 'react'

registerParts([
  BarChart,
  LineChart,
  MapChart,
  SankeyChart,
  GridComponent,
  LegendComponent,
  TooltipComponent,
  VisualMapComponent,
  SVGRenderer,
])

/** A chart; what it shows is in a table beside it too, so it is a picture to assistive programs. */
export function Chart({
  option,
  label,
  height,
  axes = true,
}: {
  option: EChartsCoreOption
  label: string
  height: number
  axes?: boolean
}) {
  const place = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (!place.current) return
    const chart = init(place.current, null, { renderer: 'svg' })
    const watch = new ResizeObserver(() => chart.resize())
    watch.observe(place.current)
    chart.setOption(material(axes))
    chart.setOption(option)
    return () => {
      watch.disconnect()
      chart.dispose()
    }
  }, [option, axes])
  return <div ref={place} role="img" aria-label={label} style={{ height }} />
}

/** The look of every chart, in the colours of the theme in use. */
function material(axes: boolean): EChartsCoreOption {
  const style = getComputedStyle(document.documentElement)
  const ink = (name: string): string => style.getPropertyValue(`--${name}`).trim()
  const label = { color: ink('soft'), fontFamily: style.fontFamily, fontSize: 12 }
  const common = {
    animation: false,
    color: [
      ink('act'),
      ink('done-mark'),
      ink('wait-mark'),
      ink('lost-mark'),
      '#3f6b95',
      '#8a8172',
      '#a65c8f',
      '#6d7f2c',
      '#c77b4a',
    ],
    textStyle: label,
  }
  if (!axes) return common
  return {
    ...common,
    grid: { left: 56, right: 8, top: 30, bottom: 24 },
    legend: { top: 0, right: 0, itemWidth: 12, itemHeight: 8, textStyle: label },
    xAxis: {
      type: 'category',
      axisLine: { lineStyle: { color: ink('hair') } },
      axisTick: { show: false },
      axisLabel: label,
    },
    yAxis: { type: 'value', axisLabel: label, splitLine: { lineStyle: { color: ink('hair') } } },
  }
}
