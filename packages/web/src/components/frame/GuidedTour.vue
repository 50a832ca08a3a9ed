<script setup lang="ts">
import { watch } from 'vue'
import { useRouter } from 'vue-router'
import { useTour } from '../../stores/tour'
import { ICONS } from '../../theme/icons'
import IconButton from '../IconButton.vue'

/** The step of the tour that is shown, above the view that it is about. */
const tour = useTour()
const router = useRouter()
watch(
  () => tour.at,
  () => tour.step && router.push(tour.step.to),
)
</script>

<template>
  <v-card v-if="tour.step && tour.at !== null" class="tour" elevation="6" border role="region" aria-label="Tour">
    <v-card-title class="row">
      {{ tour.step.title }}
      <span class="quiet small">{{ tour.at + 1 }} of {{ tour.steps.length }}</span>
      <span class="fill" />
      <IconButton :icon="ICONS.close" label="End tour" @click="tour.end()" />
    </v-card-title>
    <v-card-text aria-live="polite">{{ tour.step.text }}</v-card-text>
    <v-card-actions>
      <v-btn @click="tour.end()">Skip tour</v-btn>
      <v-spacer />
      <v-btn v-if="tour.at > 0" @click="tour.goTo(tour.at - 1)">Back</v-btn>
      <v-btn variant="flat" color="primary" @click="tour.goTo(tour.at + 1)">{{
        tour.at + 1 < tour.steps.length ? 'Next' : 'Finish'
      }}</v-btn>
    </v-card-actions>
  </v-card>
</template>

<style scoped>
.tour {
  position: fixed;
  right: 20px;
  bottom: 20px;
  width: min(380px, calc(100vw - 40px));
  z-index: 1500;
}
</style>
