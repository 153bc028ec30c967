<script setup lang="ts">
import { useResizeObserver } from '@vueuse/core'
import { BarChart } from 'echarts/charts'
import { GridComponent, TooltipComponent } from 'echarts/components'
import { init, use, type ECharts } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'

import { theme } from './theme'

/** Bars over numbers, in the colours of the page; what they say stands in words for who cannot see them. */
const props = defineProps<{ bars: { name: string; value: number }[]; said: string; unit: string; along: string }>()
use([BarChart, GridComponent, TooltipComponent, SVGRenderer])
const home = ref<HTMLElement>()
let chart: ECharts | undefined

const role = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--rog-${name}`).trim()
function draw(): void {
  const [ink, faint, rule] = [role('ink-soft'), role('ink-faint'), role('rule')]
  const text = { color: faint, fontFamily: 'IBM Plex Sans', fontSize: 11.5 }
  chart?.setOption({
    animation: false,
    grid: { left: 34, right: 6, top: 12, bottom: 34 },
    tooltip: { trigger: 'axis', valueFormatter: (value: unknown) => `${Number(value).toFixed(1)} ${props.unit}` },
    xAxis: {
      type: 'category',
      data: props.bars.map(({ name }) => name),
      name: props.along,
      nameLocation: 'middle',
      nameGap: 20,
      nameTextStyle: text,
      axisLabel: text,
      axisLine: { lineStyle: { color: faint } },
      axisTick: { show: false },
    },
    yAxis: {
      type: 'value',
      max: (range: { max: number }) => Math.min(100, Math.ceil(range.max / 10) * 10),
      axisLabel: { ...text, formatter: `{value} ${props.unit}` },
      splitLine: { lineStyle: { color: rule } },
      splitNumber: 3,
    },
    series: [
      { type: 'bar', data: props.bars.map(({ value }) => value), itemStyle: { color: ink }, barCategoryGap: '18%' },
    ],
  })
}
onMounted(() => {
  if (!home.value?.clientWidth) return
  chart = init(home.value, undefined, { renderer: 'svg' })
  draw()
})
watch(() => [props.bars, theme.value], draw, { flush: 'post' })
useResizeObserver(home, () => chart?.resize())
onBeforeUnmount(() => chart?.dispose())
</script>

<template>
  <figure role="img" :aria-label="said">
    <div ref="home" class="plot" aria-hidden="true" />
  </figure>
</template>

<style scoped>
figure {
  margin: 6px 0;
}

.plot {
  height: 170px;
}
</style>
