<script setup lang="ts">
import type { Growth } from '@patient-hook/contract'
import {
  Chart,
  Legend,
  LinearScale,
  LineElement,
  LogarithmicScale,
  PointElement,
  Tooltip,
  type ChartData,
  type ChartOptions,
} from 'chart.js'
import { computed } from 'vue'
import { Line } from 'vue-chartjs'
import { useTheme } from 'vuetify'

/** What batches of growing size cost, with logarithms on both axes: a straight line that climbs as fast as the rows is in proportion. */
Chart.register(LineElement, PointElement, LinearScale, LogarithmicScale, Tooltip, Legend)
Chart.defaults.font.family = "'Source Sans 3 Variable', sans-serif"
const props = defineProps<{ growth: Growth }>()
const theme = useTheme()
const colors = computed(() => theme.current.value.colors)

const SERIES = [
  { what: 'queries', word: 'queries', color: 'copper', dash: [] },
  { what: 'rowsRead', word: 'rows read', color: 'primary', dash: [6, 3] },
  { what: 'steps', word: 'steps', color: 'info', dash: [2, 3] },
] as const
const data = computed<ChartData<'line', { x: number; y: number }[]>>(() => ({
  datasets: SERIES.map(({ what, word, color, dash }) => ({
    label: word,
    // Zero has no logarithm.
    data: props.growth.points.filter((point) => point[what] > 0).map((point) => ({ x: point.rows, y: point[what] })),
    borderColor: colors.value[color] as string,
    backgroundColor: colors.value[color] as string,
    borderDash: [...dash],
    borderWidth: 2,
    pointRadius: 3,
  })),
}))
const options = computed<ChartOptions<'line'>>(() => {
  const ink = colors.value['on-surface'] as string
  const line = colors.value['line'] as string
  const axis = (text: string) => ({
    type: 'logarithmic' as const,
    title: { display: true, text, color: ink },
    ticks: {
      color: ink,
      maxRotation: 0,
      callback: (value: string | number) => (/^[125]0*$/.test(String(value)) ? Number(value).toLocaleString('en') : ''),
    },
    grid: { color: line },
  })
  return {
    animation: false,
    maintainAspectRatio: false,
    scales: { x: axis('rows in the batch'), y: axis('count') },
    plugins: { legend: { labels: { color: ink, usePointStyle: true, pointStyle: 'line' } } },
  }
})

const powerWord = (exponent: number): string => {
  if (exponent < 0.1) return 'does not grow'
  if (exponent <= 1.15) return `grows like the rows (power ${exponent})`
  return `grows faster than the rows (power ${exponent})`
}
const largest = computed(() => props.growth.points.at(-1)?.rows ?? 0)
const words = computed(
  () => `Steps: ${powerWord(props.growth.exponents.steps)}. Rows read: ${powerWord(props.growth.exponents.rowsRead)}.`,
)
</script>

<template>
  <figure>
    <div class="chart"><Line :data="data" :options="options" :aria-label="words" role="img" /></div>
    <figcaption class="small">
      {{ words }}
      <span v-if="growth.limit" class="copper">At most {{ largest.toLocaleString('en') }} rows fit: {{ growth.limit }}.</span>
      <span v-else class="quiet">{{ largest.toLocaleString('en') }} rows fit into the budget.</span>
    </figcaption>
  </figure>
</template>

<style scoped>
.chart {
  height: 220px;
  position: relative;
}
figure {
  margin: 8px 0;
  max-width: 620px;
}
</style>
