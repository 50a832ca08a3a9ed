<script setup lang="ts">
import type { SaveFigures } from '@patient-hook/contract'
import {
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
  type ChartData,
  type ChartOptions,
} from 'chart.js'
import { computed } from 'vue'
import { Chart as ChartBox } from 'vue-chartjs'
import { useTheme } from 'vuetify'
import { figuresWord, hoursUpTo, hourWord } from './words'

/** Saves by the hour as columns, their time as lines: the middle one, and the one that only a twentieth takes longer than. */
Chart.register(BarController, BarElement, CategoryScale, LinearScale, LineController, LineElement, PointElement, Tooltip, Legend)
Chart.defaults.font.family = "'Source Sans 3 Variable', sans-serif"
const props = defineProps<{ figures: SaveFigures; span: number }>()
const theme = useTheme()
const colors = computed(() => theme.current.value.colors as Record<string, string>)

const data = computed<ChartData<'bar' | 'line', (number | null)[]>>(() => {
  const hours = hoursUpTo(Date.now(), props.span)
  const of = (hour: string) => props.figures.hours.find((each) => each.hour === hour)
  const line = (label: string, key: 'p50' | 'p95', color: string, dash: number[]) => ({
    type: 'line' as const,
    label,
    data: hours.map((hour) => (of(hour)?.saves ? of(hour)![key] : null)),
    yAxisID: 'ms',
    borderColor: colors.value[color],
    backgroundColor: colors.value[color],
    borderDash: dash,
    borderWidth: 2,
    pointRadius: 4,
    pointBorderColor: colors.value['background'],
    pointBorderWidth: 1.5,
    spanGaps: true,
  })
  const column = (label: string, key: 'saves' | 'notKept', color: string) => ({
    type: 'bar' as const,
    label,
    data: hours.map((hour) => of(hour)?.[key] ?? 0),
    backgroundColor: colors.value[color],
    stack: 'saves',
    yAxisID: 'saves',
  })
  return {
    labels: hours.map(hourWord),
    datasets: [
      line('p50, ms', 'p50', 'info', []),
      line('p95, ms', 'p95', 'copper', [5, 3]),
      column('saved', 'saves', 'primary'),
      column('refused or failed', 'notKept', 'error'),
    ],
  }
})
const options = computed<ChartOptions<'bar' | 'line'>>(() => {
  const ink = colors.value['on-surface']
  return {
    animation: false,
    maintainAspectRatio: false,
    scales: {
      x: {
        stacked: true,
        ticks: { color: ink, maxRotation: 0 },
        grid: { display: false },
        title: { display: true, text: 'hour', color: ink },
      },
      saves: {
        position: 'left',
        beginAtZero: true,
        stacked: true,
        ticks: { color: ink, precision: 0 },
        grid: { color: colors.value['line'] },
        title: { display: true, text: 'saves', color: ink },
      },
      ms: {
        position: 'right',
        beginAtZero: true,
        ticks: { color: ink },
        grid: { display: false },
        title: { display: true, text: 'ms', color: ink },
      },
    },
    plugins: { legend: { labels: { color: ink, usePointStyle: true } } },
  }
})
</script>

<template>
  <div class="chart">
    <ChartBox type="bar" :data="data as never" :options="options as never" :aria-label="figuresWord(figures)" role="img" />
  </div>
</template>

<style scoped>
.chart {
  height: 230px;
  max-width: 860px;
  position: relative;
}
</style>
