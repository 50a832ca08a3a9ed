<script setup lang="ts">
import type { HookHour } from '@patient-hook/contract'
import { BarElement, CategoryScale, Chart, Legend, LinearScale, Tooltip, type ChartData, type ChartOptions } from 'chart.js'
import { computed } from 'vue'
import { Bar } from 'vue-chartjs'
import { useTheme } from 'vuetify'
import { hoursUpTo, hourWord } from '../operations/saves/words'

/** Rows that a hook ran for, refused and failed on, hour by hour. */
Chart.register(BarElement, CategoryScale, LinearScale, Tooltip, Legend)
Chart.defaults.font.family = "'Source Sans 3 Variable', sans-serif"
const props = defineProps<{ hours: readonly HookHour[]; span: number }>()
const theme = useTheme()
const colors = computed(() => theme.current.value.colors)

const beginnings = computed(() => hoursUpTo(Date.now(), props.span))
const SERIES = [
  { what: 'ran', word: 'rows it ran for', color: 'primary' },
  { what: 'refused', word: 'refused', color: 'copper' },
  { what: 'failed', word: 'failed', color: 'error' },
] as const
const data = computed<ChartData<'bar', number[]>>(() => ({
  labels: beginnings.value.map(hourWord),
  datasets: SERIES.map(({ what, word, color }) => ({
    label: word,
    data: beginnings.value.map((hour) =>
      props.hours.filter((each) => each.hour === hour).reduce((sum, each) => sum + each[what], 0),
    ),
    backgroundColor: colors.value[color] as string,
  })),
}))
const options = computed<ChartOptions<'bar'>>(() => {
  const ink = colors.value['on-surface'] as string
  const line = colors.value['line'] as string
  return {
    animation: false,
    maintainAspectRatio: false,
    scales: {
      x: {
        ticks: { color: ink, maxRotation: 0 },
        grid: { display: false },
        title: { display: true, text: 'hour', color: ink },
      },
      y: { beginAtZero: true, ticks: { color: ink, precision: 0 }, grid: { color: line } },
    },
    plugins: { legend: { labels: { color: ink } } },
  }
})
const words = computed(() => {
  const sum = (what: 'ran' | 'refused' | 'failed') => props.hours.reduce((total, each) => total + each[what], 0)
  return `It ran for ${sum('ran')} rows, refused ${sum('refused')} and failed on ${sum('failed')}.`
})
</script>

<template>
  <div class="chart"><Bar :data="data" :options="options" :aria-label="words" role="img" /></div>
</template>

<style scoped>
.chart {
  height: 200px;
  max-width: 760px;
  position: relative;
  margin-top: 10px;
}
</style>
