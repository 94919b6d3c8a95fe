'use client'
import { BarChart } from 'echarts/charts'
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components'
import { init, use, type EChartsCoreOption } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { useEffect, useRef } from 'react'

use([BarChart, GridComponent, LegendComponent, TooltipComponent, SVGRenderer])

/** A chart; what it shows stands in a table beside it too, so it is a picture to assistive programs. */
export function Chart({ option, label, height }: { option: EChartsCoreOption; label: string; height: number }) {
  const place = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (!place.current) return
    const chart = init(place.current, null, { renderer: 'svg' })
    const watch = new ResizeObserver(() => chart.resize())
    watch.observe(place.current)
    chart.setOption(option)
    return () => {
      watch.disconnect()
      chart.dispose()
    }
  }, [option])
  return <div ref={place} role="img" aria-label={label} style={{ height }} />
}
