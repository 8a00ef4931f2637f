<script setup lang="ts">
import { computed } from 'vue'
import { useProject } from '@/stores/project'

const project = useProject()
const shown = computed({
  get: () => project.message !== '',
  set: (on) => {
    if (!on) project.message = ''
  },
})
</script>

<template>
  <v-app>
    <router-view />
    <v-snackbar v-model="shown" :timeout="9000" color="#2b2521" location="bottom" data-test="message">
      {{ project.message }}
      <template #actions><v-btn variant="text" @click="shown = false">Close</v-btn></template>
    </v-snackbar>
  </v-app>
</template>
