<script setup lang="ts">
import ErrorNote from '../../components/ErrorNote.vue'
import MomentText from '../../components/MomentText.vue'
import { useProject } from '../../stores/project'
import { useTour } from '../../stores/tour'
import { ICONS } from '../../theme/icons'
import SaveChart from '../operations/saves/SaveChart.vue'
import { figuresWord } from '../operations/saves/words'
import FirstSteps from './FirstSteps.vue'
import { useOverview } from './use-overview'

/** The home page: what needs attention, what was done lately, how saves are doing; for a new project the way to its first hook. */
const project = useProject()
const tour = useTour()
const { attention, activity, figures, steps, isStarted, isLoaded, error, hours } = useOverview()
const LEVELS = {
  error: { icon: ICONS.refused, color: 'error' },
  warning: { icon: ICONS.warning, color: 'warning' },
  info: { icon: ICONS.info, color: 'info' },
} as const
</script>

<template>
  <div class="page scroll" tabindex="0" aria-label="Overview">
    <ErrorNote v-if="error" :error="error.report" />
    <h1>{{ project.info?.title }}</h1>
    <v-skeleton-loader v-if="!isLoaded && !error" type="list-item-two-line@3" color="transparent" />
    <template v-else-if="isLoaded">
      <FirstSteps v-if="!isStarted" :steps="steps" />
      <v-alert v-else-if="tour.isOffered" class="mb-4" color="primary" variant="tonal" role="group" aria-label="Tour">
        A tour of five steps shows the way of a change, from the code to the live records.
        <template #append>
          <v-btn @click="tour.end()">Skip</v-btn>
          <v-btn variant="flat" color="primary" class="ms-2" @click="tour.goTo(0)">Start tour</v-btn>
        </template>
      </v-alert>
      <div class="parts">
        <v-card title="Needs attention" variant="flat" border>
          <v-list v-if="attention.length" role="group" aria-label="Needs attention">
            <v-list-item v-for="(item, index) in attention" :key="index" :to="item.to" :title="item.text">
              <template #prepend>
                <v-icon :icon="LEVELS[item.level].icon" :color="LEVELS[item.level].color" size="18" />
              </template>
            </v-list-item>
          </v-list>
          <v-card-text v-else class="quiet">Nothing needs attention.</v-card-text>
        </v-card>
        <v-card title="Activity" variant="flat" border>
          <v-list v-if="activity.length" role="group" aria-label="Activity">
            <v-list-item v-for="(item, index) in activity" :key="index" :to="item.to">
              <v-list-item-title
                ><strong>{{ item.user }}</strong> {{ item.text }}</v-list-item-title
              >
              <template #append><MomentText class="quiet small" :at="item.at" /></template>
            </v-list-item>
          </v-list>
          <v-card-text v-else class="quiet">No activity yet.</v-card-text>
        </v-card>
        <v-card v-if="figures && figures.hours.length" title="Saves in the last 24 hours" variant="flat" border class="wide">
          <v-card-text>
            <p>{{ figuresWord(figures) }}</p>
            <SaveChart :figures="figures" :span="hours" />
          </v-card-text>
        </v-card>
      </div>
    </template>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  padding: 16px 20px 32px;
}
h1 {
  font-size: 21px;
  font-weight: 620;
  margin-bottom: 12px;
}
.parts {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(440px, 100%), 1fr));
  gap: 14px;
  align-items: start;
}
.parts > * {
  margin-top: 0;
}
.wide {
  grid-column: 1 / -1;
}
</style>
