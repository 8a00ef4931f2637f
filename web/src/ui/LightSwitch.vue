<script setup lang="ts">
/** Between the light office and the dark one. */
import { mdiWeatherNight, mdiWhiteBalanceSunny } from '@mdi/js'
import { night, turnLight } from './night'
</script>

<template>
  <v-btn
    :icon="night ? mdiWhiteBalanceSunny : mdiWeatherNight"
    variant="text"
    size="32"
    :title="night ? 'Light paper' : 'Dark paper, for the workshop at night'"
    :aria-label="night ? 'Light paper' : 'Dark paper'"
    data-test="light-switch"
    @click="turnLight()"
  />
</template>
